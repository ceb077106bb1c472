import { useCallback, useState } from "react";
import { useOutletContext } from "react-router";
import { read, type Schemas } from "../../api/client";
import { beep } from "../../parts/beep";
import { useMinute } from "../../parts/clock";
import { Panel } from "../../parts/Panel";
import { useScanner } from "../../parts/scanner";
import type { Taking } from "./taking";

type Held = { id: number; at: string; words: string; ours: boolean };

/** Cards held to a reader while the register is open, newest first. */
export function useCards(taking: Taking): Held[] {
  const [held, setHeld] = useState<Held[]>([]);
  const minute = useMinute();
  const add = useCallback(
    (words: string, ours: boolean) =>
      setHeld((old) => [{ id: (old[0]?.id ?? 0) + 1, at: minute(), words, ours }, ...old].slice(0, 40)),
    [minute],
  );
  const onScan = async (card: string) => {
    const words = taking.cardHeld(card);
    if (words) {
      add(words, true);
      return;
    }
    beep();
    try {
      const whose = await read("/api/cards/{card}", { card });
      add(whose.known ? `Not on this register: ${whose.text}` : `Unknown card: ${whose.text}`, false);
    } catch {
      add(`Not on this register: card ${card}`, false);
    }
  };
  useScanner((card) => void onScan(card), taking.view.canSend);
  return held;
}

/** What the reader at the door has read. */
export function Cards({ held, taking }: { held: Held[]; taking: Taking }) {
  const who = useOutletContext<Schemas["Who"]>();
  const { class: group, slot } = taking.view.register;
  const standIn = who.demo && (
    <button
      type="button"
      className="linklike look-small"
      onClick={() => window.open(`/reader?class=${group}&slot=${slot}`, "reader", "popup,width=420,height=640")}
    >
      card reader (simulated)
    </button>
  );
  if (held.length === 0 && !standIn) return null;
  return (
    <Panel title="Cards at the door" extra={standIn}>
      {held.length === 0 ? (
        <p className="empty">Hold a card to the reader: it marks the student in, whatever else you are doing.</p>
      ) : (
        <ul className="cards" aria-live="polite">
          {held.slice(0, 8).map((h) => (
            <li key={h.id} className={h.ours ? "" : "strange"}>
              <span className="look-muted">{h.at}</span> {h.words}
            </li>
          ))}
        </ul>
      )}
    </Panel>
  );
}
