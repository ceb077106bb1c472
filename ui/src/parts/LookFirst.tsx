import "./change-first.css";
import { Modal } from "antd";
import { type ReactNode, useState } from "react";
import { type Schemas, type WritePath, write } from "../api/client";
import { Tick } from "./controls/Tick";
import { useFocusBack } from "./focus";
import { tell } from "./told";
import { plural } from "./words";

type Plan = Schemas["Plan"];

/** The paths that say what they would change before they change it. */
type Looked = Extract<
  WritePath,
  "/api/part-time" | "/api/school/closures" | "/api/school/terms" | "/api/school/bells" | "/api/school/day-pattern"
>;

/**
 * A change that is looked at before it is made: the first press says what it would change, the second makes it. Whatever
 * is asked otherwise meanwhile has to be looked at anew, and so has what somebody else makes of the school meanwhile.
 * The past is corrected only where that is ticked.
 */
export function LookFirst<P extends Looked>({
  title,
  path,
  body,
  ready,
  okText = "Save",
  said,
  correctsPast = false,
  began,
  width,
  close,
  children,
}: {
  title: string;
  path: P;
  body: object; // what is asked, without apply and past
  ready: boolean;
  okText?: string;
  said: (plan: Plan) => string; // what is told when it is done
  correctsPast?: boolean; // whether it may begin among days whose registers are in
  began?: unknown; // what the form began from, as it stands now: where another window changes it, the form is out of date
  width?: number;
  close: (changed: boolean) => void;
  children: ReactNode;
}) {
  useFocusBack();
  const [looked, setLooked] = useState<{ plan: Plan; of: string }>();
  const [refused, setRefused] = useState<{ words: string; of: string }>();
  const [past, setPast] = useState(false);
  const [busy, setBusy] = useState(false);
  const [first] = useState(() => JSON.stringify(began));
  const outOfDate = first !== JSON.stringify(began);
  const asked = JSON.stringify([body, past]);
  const plan = looked?.of === asked ? looked.plan : undefined;
  const wrong = refused?.of === asked ? refused.words : "";
  const ask = async (apply: boolean) => {
    setBusy(true);
    try {
      const seen = apply && plan?.stamp ? plan.stamp : undefined;
      const whole = { ...body, ...(correctsPast && { past }), seen, apply };
      const p = (await write({ path, body: whole } as unknown as Parameters<typeof write>[0])) as unknown as Plan;
      setLooked({ plan: p, of: asked });
      setRefused(undefined);
      if (!p.applied) return;
      tell.done(said(p));
      close(true);
    } catch (e) {
      setLooked(undefined);
      setRefused({ words: (e as Error).message, of: asked });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Modal
      open
      width={width}
      title={title}
      onCancel={() => close(false)}
      okText={plan ? okText : "See what it would change"}
      okButtonProps={{ disabled: !ready || outOfDate, loading: busy }}
      onOk={() => void ask(plan !== undefined && plan.problems.length === 0)}
      cancelText="Cancel"
    >
      <div className="change-first">
        {children}
        {outOfDate && (
          <p role="alert" className="look-overdue">
            Somebody else has changed this meanwhile: close it and open it again to go on from what stands now.
          </p>
        )}
        {wrong && (
          <p role="alert" className="look-overdue">
            {wrong}
          </p>
        )}
        {correctsPast && (wrong || past) && (
          <Tick checked={past} onChange={setPast}>
            correct the past: days whose registers are in are measured by it too
          </Tick>
        )}
        {plan && <Would plan={plan} />}
      </div>
    </Modal>
  );
}

const most = 14; // lines of what would change

/** What a change would do, before it is done. */
export function Would({ plan }: { plan: Plan }) {
  const parts = plan.parts.filter((p) => p.added + p.changed + p.ended > 0);
  return (
    <div className="would look-small" role="status">
      <p>
        <b>{plan.when.charAt(0).toUpperCase() + plan.when.slice(1)}.</b>{" "}
        {parts.length === 0
          ? "Nothing would be another."
          : parts
              .map((p) =>
                [
                  p.added > 0 && `${plural(p.added, p.what)} more`,
                  p.changed > 0 && `${plural(p.changed, p.what)} changed`,
                  p.ended > 0 && `${plural(p.ended, p.what)} fewer`,
                ]
                  .filter(Boolean)
                  .join(", "),
              )
              .join("; ")}
      </p>
      {plan.notes.map((n) => (
        <p key={n}>{n}.</p>
      ))}
      <ul>
        {[...plan.problems, ...plan.figures, ...plan.details.slice(0, most)].map((line) => (
          <li key={line}>{line}</li>
        ))}
        {plan.details.length > most && <li>and {plan.details.length - most} more</li>}
      </ul>
    </div>
  );
}
