import type { Schemas } from "../../api/client";

type Area = Schemas["AreaCount"];

const colours: Record<string, string | undefined> = {
  absence: "var(--area-absence)",
  punctuality: "var(--area-unexcused)",
  conduct: "var(--area-conduct)",
  courses: "var(--area-course)",
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

/** How many rules found a student at the last reviews, as a small line that ends now. */
export function Course({ of }: { of: number[] }) {
  const most = Math.max(3, ...of);
  const x = (i: number) => (of.length > 1 ? (i / (of.length - 1)) * (wide - 6) + 3 : wide - 3);
  const y = (n: number) => high - 3 - (n / most) * (high - 6);
  const said = `rules at the last reviews, and now: ${of.join(", ")}`;
  return (
    <svg className="course" width={wide} height={high} role="img" aria-label={said}>
      <title>{said}</title>
      <polyline points={of.map((n, i) => `${x(i)},${y(n)}`).join(" ")} />
      <circle cx={x(of.length - 1)} cy={y(of.at(-1) ?? 0)} r="2.5" />
    </svg>
  );
}
