import "./conduct.css";
import { Button } from "antd";
import { useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Waiting } from "../../parts/Panel";
import { SavedViews } from "../../parts/SavedViews";
import { TakeAlong } from "../../parts/TakeAlong";
import { fileOf, useAsked } from "./asked";
import { Bars, Changes, Spans, Weeks, Who } from "./Counted";
import { Found, Incomplete } from "./Found";
import { GridOf } from "./GridOf";
import { Lists } from "./Lists";
import { Search } from "./Search";

/** Where and when incidents gather, what they were, whether they became fewer, and what of them is still open. */
export default function Conduct() {
  const asked = useAsked();
  const { set } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const page = useRead("/api/conduct", asked);
  const [lists, setLists] = useState(false);
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  const mayMark = !asked.at && who.role !== "teacher";
  return (
    <main className="page conduct-place">
      <h1 className="visually-hidden">Conduct</h1>
      <div className="top">
        {who.role !== "teacher" && <SavedViews place="conduct" />}
        <span className="look-actions no-print">
          <TakeAlong small file={fileOf(asked)} />
          {mayMark && (
            <Button size="small" onClick={() => setLists(true)}>
              Kinds, places, actions …
            </Button>
          )}
          <Button type="primary" onClick={() => set({ incident: "new" }, false)}>
            Note an incident <kbd>!</kbd>
          </Button>
        </span>
      </div>
      <Search v={v} />
      <p className="covers">
        {v.label}
        {v.group && ` · ${v.group}`} · {v.rate.days} school days
        {who.role === "teacher" && " · of the students you teach, and those you recorded"}
      </p>
      <div className="columns conduct">
        <div className="stack">
          <GridOf grid={v.grid} rate={v.rate} />
          <Found v={v} />
          <Spans v={v} />
        </div>
        <div className="stack">
          <Changes v={v} mayMark={mayMark} />
          <Incomplete list={v.open} />
          <Bars title="By kind" bars={v.byKind} v={v} choose={(id) => set({ kinds: String(id) })} />
          <Bars title="By action" bars={v.byAction} v={v} choose={(id) => set({ actions: String(id) })} />
          <Weeks weeks={v.weeks} />
          <Who v={v} />
        </div>
      </div>
      {lists && <Lists close={() => setLists(false)} />}
    </main>
  );
}
