import { Button } from "antd";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { type Schemas, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { Panel } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

type Page = Schemas["ConcernsView"];
type Act = "/api/reviews/begin" | "/api/reviews/again" | "/api/reviews/finish";

/** The review that is held: how far it is, what can be done with it, and when the next one is. */
export function ReviewPanel({ p }: { p: Page }) {
  const sections = useScope();
  const { search } = useLocation();
  const [rule, setRule] = useState(false);
  const write = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  const act = (path: Act) => write.mutate({ path, body: { sections } });
  const r = p.review;
  const at = new URLSearchParams(search).get("at");
  return (
    <Panel title={`Review of ${r.date}`} className="review">
      <div className="about">
        <span>{state(r)}</span>
        <span className="look-small look-muted">
          Figures as at {r.asAt}
          {r.begun && r.asAt !== p.label && `, new concerns as at ${p.label}`}.{" "}
          {r.before ? `Beside the review of ${r.before}.` : "There was no review before, so that everyone is new."}
        </span>
        <span className="look-small look-muted">
          {r.next ? `Next ${r.next}: ${r.ruleText}.` : `Reviews are ${r.ruleText}.`}{" "}
          {p.maySet && (
            <button type="button" className="link" onClick={() => setRule(!rule)} aria-expanded={rule}>
              change
            </button>
          )}
        </span>
        {rule && <When p={p} close={() => setRule(false)} />}
      </div>
      {p.mayDecide && (
        <div className="look-line look-wrap">
          {!r.begun && (
            <Button size="small" type="primary" loading={write.isPending} onClick={() => act("/api/reviews/begin")}>
              Begin it
            </Button>
          )}
          {r.begun && !r.finished && (
            <>
              <Button
                size="small"
                type={r.due === 0 ? "primary" : "default"}
                loading={write.isPending}
                onClick={() => act("/api/reviews/finish")}
              >
                {r.due === 0 ? "Finish it" : `Finish it, ${r.due} undecided`}
              </Button>
              <Button
                size="small"
                loading={write.isPending}
                title="After new grades or a new file: whom the rules find now comes on it, whom they do not goes"
                onClick={() => act("/api/reviews/again")}
              >
                Run the rules again
              </Button>
            </>
          )}
          {r.finished && r.day !== p.today && (
            <Button size="small" loading={write.isPending} onClick={() => act("/api/reviews/begin")}>
              Begin another today
            </Button>
          )}
        </div>
      )}
      <div className="look-line look-small">
        <Link to={`/concerns/reviews${at ? `?at=${at}` : ""}`}>Earlier reviews</Link>
      </div>
    </Panel>
  );
}

function state(r: Schemas["ReviewNow"]): string {
  if (r.finished) return `Finished ${r.finished}.`;
  if (r.of === 0) return "Nobody is on it.";
  if (r.due === 0) return "Everybody on it is decided.";
  return `${plural(r.due, "student")} to decide${r.begun ? "" : "; nobody has begun"}.`;
}

const weekdays = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"].map((label, i) => ({
  value: i + 1,
  label,
}));

/** Says when reviews are. */
function When({ p, close }: { p: Page; close: () => void }) {
  const [weekday, setWeekday] = useState(p.review.rule.weekday);
  const [weeks, setWeeks] = useState(p.review.rule.weeks);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  return (
    <span className="look-actions look-wrap">
      <Choice
        size="small"
        label="How often"
        value={weeks}
        onChange={setWeeks}
        options={[
          { value: 1, label: "every week" },
          { value: 2, label: "every 2 weeks" },
          { value: 4, label: "every 4 weeks" },
          { value: 0, label: "when somebody begins one" },
        ]}
      />
      {weeks > 0 && (
        <Choice size="small" label="On which day" value={weekday} onChange={setWeekday} options={weekdays} />
      )}
      <Button
        size="small"
        type="primary"
        loading={write.isPending}
        onClick={() => write.mutate({ path: "/api/reviews/rule", body: { weekday, weeks } })}
      >
        Save
      </Button>
    </span>
  );
}
