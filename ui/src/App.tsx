import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Refusal, read, type Schemas } from "./api/client";
import { forgetKept, keptSession } from "./api/kept";
import type { Alone } from "./parts/alone";
import { Broken } from "./parts/Broken";
import { Frame } from "./parts/Frame";
import { Waiting } from "./parts/Panel";
import { SignIn } from "./places/signin/SignIn";

const pages: Record<string, ReturnType<typeof lazy>> = {
  today: lazy(() => import("./places/today/Today")),
  registers: lazy(() => import("./places/registers/Registers")),
  desk: lazy(() => import("./places/desk/Desk")),
  absence: lazy(() => import("./places/absence/AbsencePlace")),
  conduct: lazy(() => import("./places/conduct/Conduct")),
  courses: lazy(() => import("./places/courses/Courses")),
  concerns: lazy(() => import("./places/concerns/ConcernsPlace")),
  "follow-up": lazy(() => import("./places/followup/FollowUpPlace")),
  school: lazy(() => import("./places/school/School")),
  papers: lazy(() => import("./places/papers/PapersPlace")),
  outbox: lazy(() => import("./places/today/Outbox")),
  notices: lazy(() => import("./places/today/Notices")),
  reasons: lazy(() => import("./places/today/OverdueReasons")),
  contacts: lazy(() => import("./places/today/ContactsToCorrect")),
  trips: lazy(() => import("./places/trips/Trips")),
  "trips/:trip": lazy(() => import("./places/trips/Trip")),
  "roll-calls": lazy(() => import("./places/rollcall/RollCalls")),
  "roll-calls/:roll": lazy(() => import("./places/rollcall/RollRecord")),
  "former/:student/:record": lazy(() => import("./places/former/FormerRecord")),
  protocol: lazy(() => import("./places/today/Protocol")),
  calls: lazy(() => import("./places/today/CallSheet")),
  controls: lazy(() => import("./places/controls/Controls")),
};

/** Lists that belong to Today, for those who may see it, and those that need more. */
const beside = ["outbox", "notices", "protocol"];
const ofTheOffice = ["reasons", "contacts", "calls"];

/** Places whose parts have addresses of their own. */
const withParts = ["registers", "absence", "concerns", "follow-up", "papers", "school"];

/** Pages that stand alone: of students' own devices, and the roll call, which opens with the line down. */
const alone: Partial<Record<Alone, ReturnType<typeof lazy>>> = {
  "/check-in": lazy(() => import("./places/phone/Phone")),
  "/station": lazy(() => import("./places/station/Station")),
  "/roll-call": lazy(() => import("./places/rollcall/RollCall")),
};

const PassCheck = lazy(() => import("./places/pass/PassCheck"));
const Reader = lazy(() => import("./places/registers/Reader"));

function routerFor(who: Schemas["Who"]) {
  const mine = who.places.filter((p) => p in pages);
  if (mine.includes("today")) mine.push(...beside);
  if (who.inOffice) mine.push(...ofTheOffice);
  mine.push("trips", "trips/:trip");
  if (mine.includes("follow-up")) mine.push("former/:student/:record");
  if (who.demo) mine.push("controls");
  if (who.mayBeginRollCall) mine.push("roll-calls", "roll-calls/:roll");
  return createBrowserRouter([
    {
      element: <Frame who={who} />,
      errorElement: <Broken />,
      children: [
        ...mine.map((place) => {
          const Page = pages[place] as React.ComponentType;
          return {
            path: withParts.includes(place) ? `/${place}/*` : `/${place}`,
            element: <Loaded Page={Page} />,
            errorElement: <Broken />,
          };
        }),
        { path: "*", element: <Navigate to={`/${landing(who, mine)}`} replace /> },
      ],
    },
  ]);
}

/** Where a person begins: the desk's own people at the desk, everybody else with their first place. */
const landing = (who: Schemas["Who"], mine: string[]) => (who.role === "desk" ? "desk" : (mine[0] ?? ""));

function Loaded({ Page }: { Page: React.ComponentType }) {
  return (
    <Suspense fallback={<Waiting />}>
      <Page />
    </Suspense>
  );
}

let routed: { who: string; router: ReturnType<typeof createBrowserRouter> } | undefined;

/** A page that stands alone, or the staff's pages. */
export function App() {
  const Page = alone[window.location.pathname as Alone] as React.ComponentType | undefined;
  return Page ? <Loaded Page={Page} /> : <Staff />;
}

/** Pages within the frame that open with the line down, for whoever was signed in. */
const openWithoutLine = /^\/trips\/\d+$/;

function Staff() {
  const who = useQuery<Schemas["Who"], Error>({
    queryKey: ["/api/session"],
    queryFn: () => read("/api/session"),
    retry: false,
    initialData: () => (openWithoutLine.test(window.location.pathname) ? keptSession() : undefined),
    initialDataUpdatedAt: 0,
  });
  const signedOut = who.error instanceof Refusal && who.error.status === 401;
  useEffect(() => {
    if (signedOut) forgetKept();
  }, [signedOut]);
  if (signedOut) return <SignIn />;
  if (!who.data) return <Waiting error={who.error} />;
  if (who.data.oneTime) return <SignIn replace={who.data.name} />;
  if (window.location.pathname === "/reader" && who.data.demo) return <Loaded Page={Reader} />;
  if (window.location.pathname === "/password")
    return <SignIn replace={who.data.name} asks done={() => window.location.assign("/")} />;
  if (/^\/pass(\/|$)/.test(window.location.pathname)) return <Loaded Page={PassCheck} />;
  const key = `${who.data.name} ${who.data.role}`;
  if (routed?.who !== key) routed = { who: key, router: routerFor(who.data) };
  return <RouterProvider router={routed.router} />;
}
