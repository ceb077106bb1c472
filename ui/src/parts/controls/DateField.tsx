import { useQueryClient } from "@tanstack/react-query";
import { DatePicker } from "antd";
import enGB from "antd/es/date-picker/locale/en_GB";
import dayjs from "dayjs";
import "dayjs/locale/en-gb";
import { useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { typedDate } from "./dates";

/** The school's date where a page knows it, this machine's elsewhere: YYYY-MM-DD. */
function useToday(): string {
  const rails = useQueryClient().getQueriesData<Schemas["RailView"]>({ queryKey: ["/api/rail"] });
  return rails.find(([, rail]) => rail)?.[1]?.now.slice(0, 10) ?? dayjs().format("YYYY-MM-DD");
}

/**
 * A date as YYYY-MM-DD, empty for none. It is typed, `thu`, `12 mar`, `12/3`, `+3`, or chosen from a month, Monday
 * first, and shows `Thu 12 March`, with the year where it is another than this one.
 */
export function DateField({
  label,
  value,
  onChange,
  placeholder = "thu, 12 mar, +3",
  back = false,
  min,
  size,
  autoFocus,
  id,
  optional = false,
  onEnter,
}: {
  label: string;
  value: string;
  onChange: (date: string) => void;
  placeholder?: string;
  back?: boolean; // a weekday that is typed is one that was
  min?: string;
  size?: "small";
  autoFocus?: boolean;
  id?: string;
  optional?: boolean; // an empty field is no date
  onEnter?: () => void; // once what is typed is taken
}) {
  const today = useToday();
  const [open, setOpen] = useState(false);
  const enter = useRef(onEnter);
  enter.current = onEnter;
  const shown = value ? dayjs(value).locale("en-gb") : null;
  /** What is typed counts when it is done: "1" is no date yet for whoever types 12 mar. */
  const take = (date: string | undefined) => {
    if (date !== undefined && date !== value && !(min && date && date < min)) onChange(date);
  };
  const typed = (field: EventTarget) => {
    const text = (field as HTMLInputElement).value;
    if (text.trim() === "") return optional ? "" : undefined;
    return text === shown?.format(format) ? undefined : typedDate(text, today, back); // what stands there was not typed
  };
  const format = value && value.slice(0, 4) !== today.slice(0, 4) ? "ddd D MMMM YYYY" : "ddd D MMMM";
  return (
    <DatePicker
      aria-label={label}
      id={id}
      className="date-field"
      locale={enGB}
      format={format}
      placeholder={placeholder}
      size={size}
      autoFocus={autoFocus}
      allowClear={optional}
      minDate={min ? dayjs(min) : undefined}
      value={shown}
      open={open}
      onOpenChange={setOpen}
      defaultPickerValue={dayjs(today)}
      showNow={false} // the button would take this machine's date
      previewValue={false} // a pointer that rests over the month must not write into what is being typed
      onChange={(d) => take(d ? d.format("YYYY-MM-DD") : optional ? "" : undefined)}
      onBlur={(e) => take(typed(e.target))}
      onKeyDown={(e) => {
        if (e.key !== "Enter") return;
        const date = typed(e.target);
        take(date);
        if (date !== undefined) setOpen(false); // it is done: the month covers what comes next
        setTimeout(() => enter.current?.()); // by then the page has what was typed
      }}
    />
  );
}
