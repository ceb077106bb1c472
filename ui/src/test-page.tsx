import { QueryClientProvider } from "@tanstack/react-query";
import { render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { App as AntApp } from "antd";
import type { ReactNode } from "react";
import { createMemoryRouter, Outlet, RouterProvider } from "react-router";
import { expect, vi } from "vitest";
import type { Schemas } from "./api/client";
import { newQueries } from "./api/queries";
import { Receipts } from "./parts/Receipts";

export type Sent = { path: string; key: string; body: unknown };

/** What a request sends. */
export async function sentIn(path: string, request: Request): Promise<Sent> {
  return { path, key: request.headers.get("Idempotency-Key") ?? "", body: JSON.parse(await request.text()) };
}

/** A server of the test's own: what it answers to reads and writes, what was asked and what was sent. */
export function testServer(answers: Record<string, unknown>) {
  const sent: Sent[] = [];
  const asked: string[] = [];
  const refusals: Record<string, { status: number; detail: string }> = {};
  vi.stubGlobal(
    "fetch",
    vi.fn(async (request: Request) => {
      const { pathname, search } = new URL(request.url);
      const path = decodeURIComponent(pathname);
      const url = path + search;
      const respond = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
      const post = request.method === "POST" ? await sentIn(path, request) : undefined;
      if (post) sent.push(post);
      else asked.push(url);
      const refusal = refusals[path];
      if (refusal) return respond(refusal.status, refusal);
      const answer = answers[url] ?? answers[path];
      if (answer !== undefined) return respond(200, typeof answer === "function" ? await answer(post) : answer);
      if (post) return respond(200, { seq: 1, text: "stored", ids: [] });
      return respond(404, { detail: `the test answers nothing to ${url}` });
    }),
  );
  return { sent, asked, refusals, answers };
}

export const who: Schemas["Who"] = {
  account: 41,
  name: "R. Tolvan",
  role: "officer",
  oneTime: false,
  school: "Fairlead School",
  demo: false,
  jumps: [],
  mayWrite: true,
  inOffice: true,
  mayBeginRollCall: true,
  places: [],
  lines: { text: "carried", eMail: "carried", printer: "carried" },
};

/** Pauses between keys as a quick hand makes them: closer together, they would be a card reader's. */
const handPause = 45; // ms

/** Renders a page as the frame would, at an address. */
export function renderPage(page: ReactNode, at = "/", pattern = "/*") {
  const queries = newQueries(0);
  const router = createMemoryRouter(
    [{ element: <Outlet context={who} />, children: [{ path: pattern, element: page }] }],
    {
      initialEntries: [at],
    },
  );
  const view = render(
    <QueryClientProvider client={queries}>
      <AntApp>
        <RouterProvider router={router} />
        <Receipts />
      </AntApp>
    </QueryClientProvider>,
  );
  return { ...view, router, queries, user: userEvent.setup(), hand: userEvent.setup({ delay: handPause }) };
}

export function student(id: number, name = `Student ${id}`): Schemas["StudentRef"] {
  const [given = "", ...family] = name.split(" ");
  return {
    id,
    name,
    given,
    sorted: `${family.join(" ")}, ${given}`,
    number: String(40000 + id),
    form: "7 Reef",
    year: "7",
    section: "",
  };
}

export function place(state: Schemas["Place"]["state"], words = ""): Schemas["Place"] {
  return { state, text: words, onSite: false, notBack: false, worried: "", last: "" };
}

export const rail: Schemas["RailView"] = {
  date: "2026-03-10",
  label: "Tue 10 March",
  open: true,
  live: true,
  now: "2026-03-10T08:52",
  asAt: "2026-03-10T08:52",
  sections: [],
  strips: [
    {
      section: 1,
      name: "",
      number: 114,
      of: 190,
      term: "Spring 2",
      open: true,
      slots: [
        { name: "AM", start: 525, end: 540, kind: "registration", registers: 24, in: 6 },
        { name: "1", start: 545, end: 595, kind: "lesson", registers: 24, in: 0 },
      ],
      ticks: [{ at: 530, kind: "in", n: 12 }],
    },
  ],
  before: "2026-03-09",
  after: "2026-03-11",
};

/** How the first registration of a section stands. */
export function safe(change: Partial<Schemas["SafeArrival"]> = {}): Schemas["SafeArrival"] {
  return {
    section: 1,
    name: "",
    state: "open",
    slot: "AM",
    text: "It closes when …",
    registersIn: 0,
    registers: 0,
    unaccounted: 0,
    by: "",
    at: "",
    reason: "",
    ...change,
  };
}

const reason = (
  word: string,
  key: string,
  absent: string,
  more: Partial<Schemas["Reason"]> = {},
): Schemas["Reason"] => ({
  word,
  key,
  absent,
  late: "L",
  excused: false,
  arrive: false,
  leave: false,
  home: key !== "",
  ...more,
});

export const reasons = [
  reason("ill", "i", "M", { leave: true }),
  reason("on the way", "w", "N"),
  reason("ferry", "", "X", { arrive: true }),
  reason("overslept", "", "U", { arrive: true }),
  reason("appointment", "a", "X", { arrive: true, leave: true }),
];

export const settings = {
  name: "Fairlead School",
  codes: "plain",
  lateGrace: 5,
  returnGrace: 5,
  dayMargin: 15,
  registerWithin: 15,
  tryAgain: 20,
  remindAfter: 5,
  distance: "R",
  reasons,
};

/** Chooses an option of a control that opens a list. */
export async function choose(user: ReturnType<typeof userEvent.setup>, label: string, option: string) {
  const box = await screen.findByRole("combobox", { name: label });
  await user.click(box);
  const closed = ".ant-select-dropdown-hidden, .ant-slide-up-leave";
  const offered = () =>
    screen
      .queryAllByText(option, { selector: ".ant-select-item-option-content" })
      .filter((one) => !one.closest(".ant-select-dropdown")?.matches(closed));
  await waitFor(() => expect(offered()).not.toHaveLength(0));
  await user.click(offered().at(-1) as HTMLElement);
}

/** What a control shows as chosen. */
export const chosen = (label: string) =>
  screen.getByRole("combobox", { name: label }).closest(".ant-select")?.textContent;

/** Where files are given to a button that asks for them. */
export async function filesOf(label: string): Promise<HTMLInputElement> {
  const button = await screen.findByRole("button", { name: label });
  return button.closest(".ant-upload")?.querySelector("input[type=file]") as HTMLInputElement;
}
