import type { Schemas } from "../../api/client";

type View = Pick<Schemas["RegisterView"], "rows" | "seating">;

/** A spot on the drawn plan; the front row is drawn last, the tray under it. */
export type Spot = { x: number; y: number };

/** Where each row of the register is drawn, in the order of the rows. */
export function spots(view: View): Spot[] {
  const { columns, rows } = view.seating;
  let inTray = 0;
  return view.rows.map((r) => {
    if (r.seat >= 0) return { x: r.seat % columns, y: rows - 1 - Math.floor(r.seat / columns) };
    const i = inTray++;
    return { x: i % columns, y: rows + 1 + Math.floor(i / columns) };
  });
}

const arrows: Record<string, Spot> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};

/** The nearest of some points from here in an arrow's direction; undefined for none. */
export function nearest<T extends Spot>(from: Spot, points: T[], arrow: string): T | undefined {
  const way = arrows[arrow];
  if (!way) return undefined;
  let best: T | undefined;
  let least = Number.POSITIVE_INFINITY;
  for (const p of points) {
    const along = (p.x - from.x) * way.x + (p.y - from.y) * way.y;
    const across = Math.abs((p.x - from.x) * way.y) + Math.abs((p.y - from.y) * way.x);
    if (along <= 0 || along + 2 * across >= least) continue;
    best = p;
    least = along + 2 * across;
  }
  return best;
}

/** The row of the register to which an arrow leads from the current one. */
export function rowBeside(view: View, current: number, arrow: string): number {
  const all = spots(view).map((spot, index) => ({ ...spot, index }));
  const here = all[current];
  return (here && nearest(here, all, arrow)?.index) ?? current;
}
