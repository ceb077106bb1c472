import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { rail, renderPage, testServer, who } from "../test-page";
import { Rail } from "./Rail";

function open(at = "/today", change = {}) {
  testServer({ "/api/rail": { ...rail, ...change } });
  return renderPage(<Rail who={who} />, at);
}

describe("the day rail", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("shows the day, its number, and how each register slot fills", async () => {
    open();
    expect(await screen.findByText("Tue 10 March")).toBeInTheDocument();
    expect(screen.getByText(/day 114 of 190 · live/)).toBeInTheDocument();
    expect(screen.getByTitle("AM 08:45–09:00: 6 of 24 registers in")).toBeInTheDocument();
    expect(screen.getByRole("slider")).toHaveAttribute("aria-valuetext", "08:52, live");
  });

  it("looks at an earlier minute by key, five with Shift, and never at a later one", async () => {
    const { user, router } = open();
    (await screen.findByRole("slider")).focus();
    await user.keyboard("{ArrowLeft}");
    await waitFor(() => expect(router.state.location.search).toContain("08%3A51"));
    await user.keyboard("{Shift>}{ArrowLeft}{/Shift}");
    await waitFor(() => expect(router.state.location.search).toContain("08%3A46"));
    await user.keyboard("{End}{ArrowRight}");
    await waitFor(() => expect(router.state.location.search).toBe(""));
  });

  it("says what is looked at, and leads back to live", async () => {
    const { user, router } = open("/today?at=2026-03-10T08:30", { live: false, asAt: "2026-03-10T08:30" });
    expect(await screen.findByText("as at 08:30, Tue 10 March")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Back to live" }));
    await waitFor(() => expect(router.state.location.search).toBe(""));
  });

  it("says of an earlier day that it stands as it does now", async () => {
    open("/today?at=2026-03-09", { live: false, date: "2026-03-09", asAt: "2026-03-09T23:59", label: "Mon 9 March" });
    expect(await screen.findByText(/as it is known now. What you save here/)).toBeInTheDocument();
    expect(screen.getByText(/printed by R. Tolvan/)).toHaveTextContent("Mon 9 March, as it is known now");
    expect(screen.queryByText("23:59")).toBeNull();
  });

  it("goes to the school day before and after", async () => {
    const { user, router } = open();
    await user.click(await screen.findByRole("button", { name: "School day before" }));
    await waitFor(() => expect(router.state.location.search).toBe("?at=2026-03-09"));
    await user.click(screen.getByRole("button", { name: "School day after" }));
    await waitFor(() => expect(router.state.location.search).toContain("2026-03-11"));
  });

  it("says when there is no school", async () => {
    open("/today", { open: false, strips: rail.strips.map((s) => ({ ...s, open: false, slots: [], ticks: [] })) });
    expect(await screen.findByText(/no school/)).toBeInTheDocument();
  });

  it("shows a strip for each section, and looks at one, several or all", async () => {
    const sections = [1, 2, 3].map((id) => ({ id, name: `Section ${id}` }));
    const strips = sections.map(({ id, name }) => ({ ...rail.strips[0], section: id, name, number: 110 + id }));
    const server = testServer({ "/api/rail": { ...rail, sections, strips } });
    const { user } = renderPage(<Rail who={who} />, "/today");
    expect(await screen.findByTitle("Section 2, AM 08:45–09:00: 6 of 24 registers in")).toBeInTheDocument();
    expect(screen.getByText("day 112 of 190")).toBeInTheDocument();
    const button = (name: string) => screen.findByRole("button", { name });
    const asked = () => new URL(`http://school${server.asked.at(-1)}`).searchParams.get("section");
    expect(await button("All")).toHaveAttribute("aria-pressed", "true");
    await user.click(await button("Section 3"));
    await waitFor(() => expect(asked()).toBe("3"));
    expect(await button("Section 3")).toHaveAttribute("aria-pressed", "true");
    await user.click(await button("Section 1"));
    await waitFor(() => expect(asked()).toBe("1,3"));
    expect(sessionStorage.getItem("sections looked at")).toBe("1,3");
    await user.click(await button("Section 2"));
    await waitFor(async () => expect(await button("All")).toHaveAttribute("aria-pressed", "true"));
    await user.click(await button("Section 2"));
    await user.click(await button("Section 2"));
    await waitFor(async () => expect(await button("All")).toHaveAttribute("aria-pressed", "true"));
    expect(sessionStorage.getItem("sections looked at")).toBeNull();
  });
});
