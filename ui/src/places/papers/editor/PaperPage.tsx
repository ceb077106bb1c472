import { type CSSProperties, type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Schemas } from "../../../api/client";
import { type Column, moved, type Setup, widened } from "./shape";

type Page = Schemas["Page"];
type Look = Schemas["PaperLook"];

const inPoint = 25.4 / 72; // millimetres

/** Where something stands on the page, in parts of it. */
const over = (page: Page, r: { x: number; y: number; w: number; h: number }): CSSProperties => ({
  left: `${(r.x / page.width) * 100}%`,
  top: `${(r.y / page.height) * 100}%`,
  width: `${(r.w / page.width) * 100}%`,
  height: `${(r.h / page.height) * 100}%`,
});

/** The page as it is printed. Its title, notes and headings are written where they stand; columns are moved and widened there. */
export function PaperPage({
  look,
  setup,
  change,
}: {
  look: Look;
  setup: Setup;
  change: (next: Partial<Setup>) => void;
}) {
  const sheet = useRef<HTMLDivElement>(null);
  const { page } = look;
  const millimetres = (pixels: number) => (pixels / (sheet.current?.clientWidth || page.width)) * page.width;
  return (
    <div className="sheet-of-paper" ref={sheet} style={{ aspectRatio: `${page.width} / ${page.height}` }}>
      <svg
        viewBox={`0 0 ${page.width} ${page.height}`}
        role="img"
        aria-label={`Page ${look.number} of ${look.pages}: ${look.covers}`}
      >
        {page.marks.map((m, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: marks have no other name
          <Mark key={i} m={m} />
        ))}
      </svg>
      {page.parts.map((part) =>
        part.name === "heading" ? (
          <Heading
            key={`heading ${part.n}`}
            part={part}
            look={look}
            columns={setup.columns}
            change={(columns) => change({ columns })}
            millimetres={millimetres}
            style={over(page, part)}
          />
        ) : (
          <Words key={part.name} part={part} setup={setup} change={change} style={over(page, part)} />
        ),
      )}
    </div>
  );
}

function Mark({ m }: { m: Schemas["PageMark"] }) {
  switch (m.kind) {
    case "text":
      return (
        <text
          x={m.x}
          y={m.y}
          fontSize={m.size * inPoint}
          fontWeight={m.bold ? 700 : 400}
          className={m.muted ? "muted" : undefined}
          textAnchor={m.end ? "end" : "start"}
          xmlSpace="preserve"
        >
          {m.text}
        </text>
      );
    case "line":
      return <line x1={m.x} y1={m.y} x2={m.x + m.w} y2={m.y + m.h} className="rule" />;
    case "box":
      return <rect x={m.x} y={m.y} width={m.w} height={m.h} className="box" />;
    case "fill":
      return <rect x={m.x} y={m.y} width={m.w} height={m.h} className="fill" />;
    default:
      return (
        <image
          x={m.x}
          y={m.y}
          width={m.w}
          height={m.h}
          href={m.text === "mark" ? "/api/mark" : `/api/students/${m.text}/photo`}
        />
      );
  }
}

const called = { title: "Title", above: "Note above", below: "Note below", heading: "" };
const asked = { title: "title", above: "a note above the list", below: "a note below the list", heading: "" };

/** The title or a note, to be written on the page. */
function Words({
  part,
  setup,
  change,
  style,
}: {
  part: Schemas["PagePart"];
  setup: Setup;
  change: (next: Partial<Setup>) => void;
  style: CSSProperties;
}) {
  const name = part.name as "title" | "above" | "below";
  const Field = name === "title" ? "input" : "textarea";
  return (
    <Field
      className={`on-page ${name}${setup[name] ? "" : " none"}`}
      style={style}
      aria-label={called[name]}
      placeholder={asked[name]}
      maxLength={name === "title" ? 120 : 4000}
      value={setup[name] ?? ""}
      onChange={(e) => change({ [name]: e.target.value })}
    />
  );
}

const step = 3; // mm a key widens a column by

/** A column's heading: written here, moved and widened by mouse or by Alt and the arrows. */
function Heading({
  part,
  look,
  columns,
  change,
  millimetres,
  style,
}: {
  part: Schemas["PagePart"];
  look: Look;
  columns: Column[];
  change: (columns: Column[]) => void;
  millimetres: (pixels: number) => number;
  style: CSSProperties;
}) {
  const field = useRef<HTMLInputElement>(null);
  const [drag, setDrag] = useState<{ x: number; was: Column[]; kind: "move" | "widen" }>();
  const shown = look.columns[part.n];
  const at = shown?.at ?? -1;
  const column = columns[at];
  if (!shown || !column) return null;
  const others = look.page.parts.filter((p) => p.name === "heading");
  const onKey = (e: KeyboardEvent) => {
    if (!e.altKey) return;
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (by) {
      e.preventDefault();
      if (e.shiftKey) change(widened(columns, at, by * step));
      else {
        change(moved(columns, at, by));
        // The focus goes along with the column.
        const next = look.columns[part.n + by];
        if (next) requestAnimationFrame(() => focusHeading(field.current, part.n + by));
      }
    } else if (e.key === "Delete" || e.key === "Backspace") {
      e.preventDefault();
      change(columns.filter((_, i) => i !== at));
    }
  };
  const begin = (kind: "move" | "widen") => (e: PointerEvent) => {
    e.preventDefault();
    e.currentTarget.setPointerCapture(e.pointerId);
    setDrag({ x: e.clientX, was: columns, kind });
  };
  const onMove = (e: PointerEvent) => {
    if (!drag) return;
    const by = millimetres(e.clientX - drag.x);
    if (drag.kind === "widen") {
      // Widths are fitted to the page: what the mouse moves on paper is that share of them all.
      const sum = drag.was.reduce((n, c) => n + c.width, 0);
      const inner = others.reduce((n, p) => n + p.w, 0);
      change(widened(drag.was, at, (by * sum) / inner));
    }
  };
  const onUp = (e: PointerEvent) => {
    if (drag?.kind === "move") {
      const middle = part.x + part.w / 2 + millimetres(e.clientX - drag.x);
      const over = others.filter((p) => p.x + p.w / 2 < middle && p.n !== part.n).length;
      change(moved(columns, at, (look.columns[over]?.at ?? at) - at));
    }
    setDrag(undefined);
  };
  return (
    <span className={`heading${drag ? " dragged" : ""}`} style={style} title={shown.label}>
      <input
        ref={field}
        className={`on-page${column.heading ? "" : " none"}`}
        data-heading={part.n}
        aria-label={`Heading of column ${part.n + 1}: ${shown.label}`}
        maxLength={80}
        value={column.heading}
        onChange={(e) => change(columns.map((c, i) => (i === at ? { ...c, heading: e.target.value } : c)))}
        onKeyDown={onKey}
      />
      <i
        className="grip"
        aria-hidden="true"
        title="Drag to move the column"
        onPointerDown={begin("move")}
        onPointerMove={onMove}
        onPointerUp={onUp}
      />
      <i
        className="edge"
        aria-hidden="true"
        title="Drag to widen the column"
        onPointerDown={begin("widen")}
        onPointerMove={onMove}
        onPointerUp={onUp}
      />
    </span>
  );
}

function focusHeading(from: HTMLElement | null, n: number) {
  from?.closest(".sheet-of-paper")?.querySelector<HTMLInputElement>(`[data-heading="${n}"]`)?.focus();
}
