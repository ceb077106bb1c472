import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { Fragment, type ReactNode, useLayoutEffect, useMemo, useRef, useState } from "react";
import { WholeList } from "./in-list";

/** What a row hands on to its element, so that its place and its height are known. */
export type Place = { ref?: (element: Element | null) => void; "data-index"?: number; "aria-rowindex"?: number };

const short = 60; // rows that are shown as they are
const ahead = 6; // rows beyond the window's edges

/**
 * A list of any length: what lies outside the window is not on the page. `height` is that of a usual
 * row, px; each is measured once it is shown. In a table the rows are `tr`.
 */
export function Long<T>({
  rows,
  height,
  keyOf,
  student,
  as: Gap,
  current,
  children,
}: {
  rows: readonly T[];
  height: number;
  keyOf: (row: T) => string | number;
  student?: (row: T) => number; // who a row is about: the sheet goes on through them all
  as: "div" | "tr";
  current?: number; // the place of the row that is to be in view, where there is one
  children: (row: T, place: Place) => ReactNode;
}) {
  const top = useRef<HTMLTableRowElement & HTMLDivElement>(null);
  const [margin, setMargin] = useState(0);
  const window = useWindowVirtualizer({
    count: rows.length,
    enabled: rows.length > short,
    estimateSize: () => height,
    measureElement: (element) => element.getBoundingClientRect().height || height, // what is not laid out has none
    getItemKey: (i) => keyOf(rows[i] as T),
    overscan: ahead,
    scrollMargin: margin,
  });
  useLayoutEffect(() => {
    // What stands above the list may have grown since.
    if (top.current) setMargin(Math.round(top.current.getBoundingClientRect().top + globalThis.scrollY));
  });
  useLayoutEffect(() => {
    if (current !== undefined && current >= 0) window.scrollToIndex(current, { align: "auto" });
  }, [current, window]);
  const whole = useMemo(() => (student ? rows.map(student) : undefined), [rows, student]);
  if (rows.length <= short)
    return (
      <WholeList value={whole}>
        {rows.map((row) => (
          <Fragment key={keyOf(row)}>{children(row, {})}</Fragment>
        ))}
      </WholeList>
    );
  const shown = window.getVirtualItems();
  const before = (shown[0]?.start ?? margin) - margin;
  const after = window.getTotalSize() - ((shown.at(-1)?.end ?? margin) - margin);
  const inside = Gap === "tr" ? <td colSpan={99} /> : null;
  return (
    <WholeList value={whole}>
      <Gap ref={top} aria-hidden="true" className="gap" style={{ height: before }}>
        {inside}
      </Gap>
      {shown.map((item) => (
        <Fragment key={item.key}>
          {children(rows[item.index] as T, {
            ref: window.measureElement,
            "data-index": item.index,
            ...(Gap === "tr" ? { "aria-rowindex": item.index + 2 } : {}),
          })}
        </Fragment>
      ))}
      <Gap aria-hidden="true" className="gap" style={{ height: after }}>
        {inside}
      </Gap>
    </WholeList>
  );
}
