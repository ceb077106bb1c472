import {
  type CollisionDetection,
  closestCenter,
  DndContext,
  type DragEndEvent,
  DragOverlay,
  type KeyboardCoordinateGetter,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { Button, Segmented } from "antd";
import { type ReactNode, useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { useKeys } from "../../parts/keys";
import { tell } from "../../parts/told";
import { codeFor, marksWith } from "./codes";
import { rowOf } from "./draft";
import { Dispute, Words } from "./Roll";
import { nearest, rowBeside } from "./seating";
import { codeWord, type Taking } from "./taking";

type RegisterRow = Schemas["RegisterRow"];

/** A lifted seat moves by arrows from place to place. */
const byArrows: KeyboardCoordinateGetter = (event, { context: { droppableRects, collisionRect } }) => {
  if (!collisionRect) return undefined;
  const points = [...droppableRects.values()].map((r) => ({
    x: r.left + r.width / 2,
    y: r.top + r.height / 2,
    corner: { x: r.left, y: r.top },
  }));
  const here = { x: collisionRect.left + collisionRect.width / 2, y: collisionRect.top + collisionRect.height / 2 };
  const next = nearest(here, points, event.code);
  if (next) event.preventDefault();
  return next?.corner;
};

/** A seat is set down where the pointer is; one lifted by key, where it is nearest. */
const under: CollisionDetection = (args) => (args.pointerCoordinates ? pointerWithin(args) : closestCenter(args));

const tray = "tray";

/** The register by seat, as the class sits before its teacher; marks are taken on it. */
export function Seats({
  taking,
  noting,
  setNoting,
  arranging,
  setArranging,
}: {
  taking: Taking;
  noting: boolean;
  setNoting: (on: boolean) => void;
  arranging: boolean;
  setArranging: (on: boolean) => void;
}) {
  const { view, current, setCurrent } = taking;
  const brushes = ["no_reason", "late", "present", "ill"].flatMap((use) => codeFor(view, use) ?? []);
  const [brush, setBrush] = useState(brushes[0]?.code ?? "");
  const [lifted, setLifted] = useState<number>();
  const [moved, setMoved] = useState<{ student: number; place: number; of: Schemas["RegisterView"] }>();
  const store = useWrite({
    failed: (e) => {
      setMoved(undefined);
      tell.wrong(`${e.message}. The plan stays as it was.`);
    },
  });
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: byArrows }),
  );
  const byKey = !marksWith(view, "t");
  const arrow = (event: KeyboardEvent) => setCurrent(rowBeside(view, current, event.key));
  useKeys(
    {
      ArrowLeft: arrow,
      ArrowRight: arrow,
      ArrowUp: arrow,
      ArrowDown: arrow,
      ...(byKey && { t: () => setArranging(true) }),
    },
    !arranging,
  );
  useKeys(
    { Escape: () => setArranging(false), ...(byKey && { t: () => setArranging(false) }) },
    arranging && lifted === undefined,
  );

  // A seat stays where it was put until the page has looked again.
  const placeOf = (r: RegisterRow) => (moved?.of === view && moved.student === r.student.id ? moved.place : r.seat);
  const { columns, rows } = view.seating;
  const held = new Map(view.rows.flatMap((r, i) => (placeOf(r) >= 0 ? [[placeOf(r), i] as const] : [])));
  const register = { date: view.date, class: view.register.class, slot: view.register.slot };
  const drop = (event: DragEndEvent) => {
    setLifted(undefined);
    const r = view.rows[Number(event.active.id)];
    if (!r || event.over === null) return;
    const place = event.over.id === tray ? -1 : Number(event.over.id);
    if (place === r.seat) return;
    setMoved({ student: r.student.id, place, of: view });
    store.mutate({
      path: "/api/seats",
      body: { ...register, student: r.student.id, place },
    });
  };
  const tap = (i: number) => {
    const r = view.rows[i];
    setCurrent(i);
    if (!r || !view.canSend) return;
    if (rowOf(taking.rows, r.student.id).code === brush) taking.put(r.student.id, { code: "", time: "" });
    else taking.mark(brush, i, true);
  };
  const seat = (i: number) => <Seat key={i} taking={taking} index={i} arranging={arranging} tap={tap} />;
  const inTray = view.rows.flatMap((r, i) => (placeOf(r) < 0 ? [i] : []));
  const row = view.rows[current];
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={under}
      onDragStart={(e) => setLifted(Number(e.active.id))}
      onDragCancel={() => setLifted(undefined)}
      onDragEnd={drop}
    >
      <div className="look-line seatbar">
        {arranging ? (
          <>
            <span>Drag to a seat, or Space, arrows, Space.</span>
            {inTray.length > 0 && (
              <Button
                size="small"
                loading={store.isPending}
                onClick={() => store.mutate({ path: "/api/seats", body: { ...register, fill: true } })}
              >
                Seat the other {inTray.length} by name
              </Button>
            )}
            <Button size="small" type="primary" onClick={() => setArranging(false)}>
              Done <kbd>{byKey ? "T" : "Esc"}</kbd>
            </Button>
          </>
        ) : (
          <>
            <span className="look-muted">A tap marks</span>
            <Segmented
              size="small"
              aria-label="A tap marks"
              value={brush}
              onChange={setBrush}
              options={brushes.map((c) => ({ value: c.code, label: `${c.code} ${c.word}` }))}
            />
            <Button size="small" onClick={() => setArranging(true)}>
              Arrange the seats {byKey && <kbd>T</kbd>}
            </Button>
          </>
        )}
      </div>
      <div
        className="seats"
        hidden={held.size === 0 && !arranging}
        style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
      >
        {Array.from({ length: rows * columns }, (_, n) => {
          const place = (rows - 1 - Math.floor(n / columns)) * columns + (n % columns);
          const i = held.get(place);
          return (
            <Place key={place} id={place} arranging={arranging}>
              {i === undefined ? null : seat(i)}
            </Place>
          );
        })}
      </div>
      <p className="front">
        {held.size === 0 && !arranging
          ? `No seats are arranged in ${view.register.room} yet: marks can be taken here all the same.`
          : `Front · ${view.register.room}${inTray.length > 0 ? ` · ${inTray.length} without a seat` : ""}`}
      </p>
      {(arranging || inTray.length > 0) && (
        <Place id={tray} arranging={arranging}>
          <div className="seats tray" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}>
            {inTray.map(seat)}
          </div>
        </Place>
      )}
      <DragOverlay dropAnimation={null}>
        {lifted !== undefined && (
          <div className="seat lifted">
            <SeatName row={view.rows[lifted]} />
          </div>
        )}
      </DragOverlay>
      {row && (
        <div className="look-line seatwords roll words">
          <b>{row.student.sorted}</b>
          <Dispute taking={taking} row={row} current />
          <Words taking={taking} row={row} index={current} noting={noting} setNoting={setNoting} />
        </div>
      )}
    </DndContext>
  );
}

/** A spot to set someone down on; an empty one has nothing but its outline. */
function Place({ id, arranging, children }: { id: number | string; arranging: boolean; children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id, disabled: !arranging });
  const kind = id === tray ? "trayplace" : "place";
  return (
    <div ref={setNodeRef} className={`${kind}${isOver ? " over" : ""}${arranging ? " open" : ""}`} data-place={id}>
      {children}
    </div>
  );
}

function Seat({
  taking,
  index,
  arranging,
  tap,
}: {
  taking: Taking;
  index: number;
  arranging: boolean;
  tap: (index: number) => void;
}) {
  const { view } = taking;
  const row = view.rows[index];
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({ id: index, disabled: !arranging });
  if (!row) return null;
  const own = rowOf(taking.rows, row.student.id);
  const state = view.codes.find((c) => c.code === own.code)?.state;
  const current = index === taking.current && !arranging;
  const disputed = taking.kept.clashes.has(row.student.id);
  return (
    <button
      ref={setNodeRef}
      {...(arranging ? { ...attributes, ...listeners } : {})}
      type="button"
      className={`seat ${state ?? "blank"}${current ? " current" : ""}${disputed ? " disputed" : ""}${isDragging ? " away" : ""}`}
      aria-pressed={arranging ? undefined : Boolean(own.code)}
      aria-current={current || undefined}
      tabIndex={arranging || current ? 0 : -1}
      onClick={() => !arranging && tap(index)}
    >
      <SeatName row={row} />
      <span className="visually-hidden">:</span>{" "}
      <span className="seatmark">
        {own.code} {state && isState(state) && <Shape state={state} silent size={11} />}
        {own.time && ` ${own.time}`}
        <span className="visually-hidden"> {own.code ? codeWord(view, own.code) : "not marked"}</span>
      </span>
    </button>
  );
}

function SeatName({ row }: { row: RegisterRow | undefined }) {
  return (
    <span className="seatname">
      <b>{row?.student.given}</b> <span>{row?.student.sorted.split(",")[0]}</span>
    </span>
  );
}
