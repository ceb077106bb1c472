import "./papers.css";
import { keepPreviousData } from "@tanstack/react-query";
import { Link, useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { SavedViews } from "../../parts/SavedViews";
import { useScope } from "../../parts/scope";
import type { Asked } from "./asked";
import { Cards } from "./Cards";
import { Lates } from "./Lates";

/** What is kept or printed: late arrivals and early departures, cards, the record of a morning. */
export default function Papers() {
  const who = useOutletContext<Schemas["Who"]>();
  const { at, params } = useAddress();
  const asked: Asked = {
    at,
    section: useScope(),
    from: params.get("from") ?? undefined,
    to: params.get("to") ?? undefined,
    group: params.get("group") ?? undefined,
    kind: params.get("kind") ?? undefined,
  };
  const lists = useListGroups();
  const page = Number(params.get("page")) || undefined;
  const lates = useRead("/api/lates", { ...asked, page }, { placeholderData: keepPreviousData });
  if (!lates.data) return <Waiting error={lates.error} />;
  return (
    <main className="page papers-place">
      <h1 className="visually-hidden">Late arrivals and early departures</h1>
      <SavedViews place="papers" />
      <div className="columns papers">
        <Lates l={lates.data} asked={asked} mayKeep={who.mayWrite} busy={lates.isPlaceholderData} />
        <div className="stack">
          {who.inOffice && <Cards groups={[...lates.data.groups, ...lists]} />}
          <Panel title="Record of the morning">
            <p className="empty">
              <Link to="/protocol">Registers, calls, who closed safe arrival and when</Link>: a page to print and sign.
            </p>
          </Panel>
        </div>
      </div>
    </main>
  );
}
