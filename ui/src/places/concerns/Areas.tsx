import type { Schemas } from "../../api/client";

type Area = Schemas["AreaCount"];

const colours: Record<string, string | undefined> = {
  absence: "var(--area-absence)",
  punctuality: "var(--area-unexcused)",
  conduct: "var(--area-conduct)",
  courses: "var(--area-course)",
  "changes of school": "var(--area-changes)",
};

export const areaColour = (area: string) => colours[area];
const words = (area: string) => area || "other";

/** The areas that a list is about, with their colours. */
export function Areas({ areas }: { areas: Area[] }) {
  const found = [...Object.keys(colours), ""].filter((area) => areas.some((a) => a.area === area));
  return (
    <span className="areas look-small">
      {found.map((area) => (
        <span key={area}>
          <i className="mark" style={{ background: colours[area] ?? "var(--ink-2)" }} />
          {words(area)}
        </span>
      ))}
    </span>
  );
}

/** What drives a concern: a stroke for each rule, by area. */
export function Strip({ areas }: { areas: Area[] }) {
  const said = areas.map((a) => `${words(a.area)} ${a.n}`).join(", ");
  return (
    <span className="strip" role="img" aria-label={said} title={said}>
      {areas.map((a) => (
        <i key={a.area} style={{ background: colours[a.area] ?? "var(--ink-2)", flexGrow: a.n }} />
      ))}
      <i className="rest" style={{ flexGrow: Math.max(0, 6 - areas.reduce((n, a) => n + a.n, 0)) }} />
    </span>
  );
}

const wide = 56; // px
const high = 16; // px

/** What drives a chance: a stroke for each area that makes it more, as long as it weighs. */
export function ChanceStrip({ of }: { of: Schemas["Chance"] }) {
  const more = of.shares.filter((s) => s.weight > 0);
  const said = of.shares.map((s) => `${words(s.area)} ${s.odds}${s.concern ? ", a concern" : ""}`).join("; ");
  const sum = more.reduce((n, s) => n + s.weight, 0);
  return (
    <span className="strip" role="img" aria-label={said} title={said}>
      {more.map((s) => (
        <i key={s.area} style={{ background: colours[s.area] ?? "var(--ink-2)", flexGrow: s.weight }} />
      ))}
      <i className="rest" style={{ flexGrow: Math.max(0, 300 - sum) }} />
    </span>
  );
}

/** A chance on a scale from 0 to 100: a stroke, or as wide as what is not known makes it. */
export function ChanceBar({ of }: { of: Schemas["Chance"] }) {
  const from = of.missing.length > 0 ? of.low : of.percent;
  const to = of.missing.length > 0 ? of.high : of.percent;
  const why = of.missing.length > 0 ? `; not known: ${of.missing.join(", ")}` : "";
  return (
    <span className="chance-bar" role="img" aria-label={`${of.text} of 100${why}`} title={`${of.text}${why}`}>
      <i style={{ left: `${from}%`, width: `max(4px, ${to - from}%)` }} />
    </span>
  );
}

/** How many rules found a student at the last reviews, as a small line that ends now. */
export function Course({ of, what = "rules at the last reviews, and now" }: { of: number[]; what?: string }) {
  const most = Math.max(3, ...of);
  const x = (i: number) => (of.length > 1 ? (i / (of.length - 1)) * (wide - 6) + 3 : wide - 3);
  const y = (n: number) => high - 3 - (n / most) * (high - 6);
  const said = `${what}: ${of.map((n) => Math.round(n)).join(", ")}`;
  return (
    <svg className="course" width={wide} height={high} role="img" aria-label={said}>
      <title>{said}</title>
      <polyline points={of.map((n, i) => `${x(i)},${y(n)}`).join(" ")} />
      <circle cx={x(of.length - 1)} cy={y(of.at(-1) ?? 0)} r="2.5" />
    </svg>
  );
}
