import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, student, testServer } from "../../test-page";
import { Accounts } from "./Accounts";
import { Leavers } from "./Leavers";
import { Record } from "./Record";

const leaver = (id: number, name: string, due: boolean): Schemas["LeaverView"] => ({
  student: student(id, name),
  left: "2024-07-19",
  until: "2026-07-18",
  due,
});

const leavers: Schemas["LeaversView"] = {
  rule: { years: 2 },
  due: 2,
  rows: [leaver(1, "Asta Øye", true), leaver(2, "Bo Lind", true), leaver(3, "Cai Holm", false)],
};

describe("those who have left", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are chosen, asked about once more, and erased", async () => {
    const server = testServer({ "/api/school/leavers": leavers });
    const { user } = renderPage(<Leavers />, "/left");
    expect(await screen.findByText("3, 2 due to be erased")).toBeInTheDocument();
    expect(screen.getByLabelText("Erase the data of Cai Holm")).toBeDisabled();
    expect(screen.getByRole("button", { name: /^Erase the data of 0/ })).toBeDisabled();
    expect(screen.getAllByText("everything as files")[0]).toHaveAttribute("href", "/api/students/1/everything");
    await user.click(screen.getByRole("button", { name: "Choose all 2 due" }));
    await user.click(screen.getByLabelText("Erase the data of Bo Lind"));
    await user.click(screen.getByRole("button", { name: "Erase the data of 1 leaver …" }));
    const dialog = await screen.findByRole("dialog");
    expect(within(dialog).getByText(/nobody can bring them back/)).toBeInTheDocument();
    expect(server.sent).toHaveLength(0);
    await user.click(within(dialog).getByRole("button", { name: "Erase for good" }));
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({ path: "/api/school/leavers/erase", body: { students: [1] } }),
    );
  });

  it("are kept for a time that the school sets", async () => {
    const server = testServer({ "/api/school/leavers": { ...leavers, rule: { years: 0 }, rows: [], due: 0 } });
    const { user } = renderPage(<Leavers />, "/left");
    expect(await screen.findByText("Without a number they are kept for good.")).toBeInTheDocument();
    await user.type(screen.getByLabelText("Years for which data are kept"), "a7{Enter}");
    await waitFor(() => expect(server.sent[0]).toMatchObject({ path: "/api/school/leavers/rule", body: { years: 7 } }));
  });
});

const account = (
  id: number,
  change: Partial<Schemas["SchoolView"]["accounts"][number]> = {},
): Schemas["SchoolView"]["accounts"][number] => ({
  id,
  username: `user${id}`,
  name: `Person ${id}`,
  role: "teacher",
  staff: id,
  oneTime: false,
  ended: false,
  ...change,
});

describe("accounts", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are signed out, given another part, reset and ended", async () => {
    const server = testServer({
      "/api/school/sessions": [
        {
          handle: "h1",
          account: 1,
          begun: "2026-03-10 08:40",
          used: "",
          from: "10.0.0.7",
          device: "a browser",
          own: false,
        },
      ],
      "/api/school/accounts/1/reset": { username: "user1", name: "Person 1", password: "tern-cove-58" },
    });
    const s = { accounts: [account(1), account(2, { ended: true })], people: [] } as unknown as Schemas["SchoolView"];
    const { user } = renderPage(<Accounts s={s} refresh={() => undefined} />);
    await user.click(await screen.findByRole("button", { name: "sign out" }));
    await waitFor(() => expect(server.sent[0]?.path).toBe("/api/school/sessions/h1/end"));
    await choose(user, "Role of user1", "pastoral");
    await waitFor(() =>
      expect(server.sent[1]).toMatchObject({ path: "/api/school/accounts/1", body: { role: "pastoral", staff: 1 } }),
    );
    await user.click(screen.getByRole("button", { name: "Reset" }));
    await user.click(await screen.findByRole("button", { name: "New password" }));
    expect(await screen.findByText("tern-cove-58")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "End" }));
    await user.click(await screen.findByRole("button", { name: "End the account" }));
    await waitFor(() => expect(server.sent.at(-1)?.path).toBe("/api/school/accounts/1/end"));
    expect(screen.queryByText("user2")).not.toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "1 account ended" }));
    expect(screen.getByText("user2")).toBeInTheDocument();
  });
});

describe("the record", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is filtered, turned over and kept as a file", async () => {
    const line = { at: "2026-03-10T09:12", who: "R. Tolvan", write: false, what: "student's sheet", detail: "" };
    const server = testServer({
      "/api/school/record": {
        from: "2026-03-04",
        to: "2026-03-10",
        lines: [
          { ...line, student: student(3, "Pip Garrow") },
          { ...line, write: true, what: "call", who: "" },
        ],
        page: 1,
        more: true,
        kept: 400,
      } satisfies Schemas["DoneView"],
      "/api/school": { accounts: [account(5)] },
    });
    const { user, router } = renderPage(<Record />, "/record");
    expect(await screen.findByText("looks are kept for 400 days")).toBeInTheDocument();
    expect(screen.getByText("the program")).toBeInTheDocument();
    await choose(user, "What", "looked at");
    await user.click(await screen.findByRole("button", { name: "only these" }));
    expect(await screen.findByRole("button", { name: "not only Pip Garrow" })).toBeInTheDocument();
    expect(screen.getByRole("link", { name: "Keep as CSV" })).toHaveAttribute(
      "href",
      "/api/school/record/file?what=looks&student=3",
    );
    await user.click(screen.getByRole("button", { name: "Earlier" }));
    await waitFor(() => expect(router.state.location.search).toContain("page=2"));
    expect(server.asked.some((a) => a.includes("what=looks") && a.includes("student=3"))).toBe(true);
  });
});
