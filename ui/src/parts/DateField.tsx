import { DatePicker } from "antd";
import enGB from "antd/es/date-picker/locale/en_GB";
import dayjs from "dayjs";
import "dayjs/locale/en-gb";

/** A date, day first and Monday first, as YYYY-MM-DD; empty for none. It is typed as 12/3/2026 or chosen. */
export function DateField({
  label,
  value,
  onChange,
  placeholder = "",
}: {
  label: string;
  value: string;
  onChange: (date: string) => void;
  placeholder?: string;
}) {
  return (
    <DatePicker
      aria-label={label}
      locale={enGB}
      format={["ddd D MMMM YYYY", "D/M/YYYY", "D.M.YYYY", "YYYY-MM-DD"]}
      placeholder={placeholder}
      value={value ? dayjs(value).locale("en-gb") : null}
      onChange={(d) => onChange(d ? d.format("YYYY-MM-DD") : "")}
    />
  );
}
