import { screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import Controls from "../../places/controls/Controls";
import { renderPage, testServer } from "../../test-page";
import { DateField } from "./DateField";

/** What the control of a row gives. */
const given = (name: string) => screen.getByText(name, { selector: "th" }).parentElement?.children[2]?.textContent;

const reasons = 6; // the options of the choice that was opened before

describe("the family of controls", () => {
  beforeEach(() => void testServer({}));
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("reads a date as it is typed and shows it as people say it", async () => {
    vi.useFakeTimers({ toFake: ["Date"], now: new Date("2026-03-10T09:12:00") });
    const { user } = renderPage(<Controls />);
    const field = await screen.findByLabelText("A date");
    for (const [typed, date, shown] of [
      ["thu", "2026-03-12", "Thu 12 March"],
      ["12 apr", "2026-04-12", "Sun 12 April"],
      ["+3", "2026-03-13", "Fri 13 March"],
      ["1/9/25", "2025-09-01", "Mon 1 September 2025"],
    ] as const) {
      await user.clear(field);
      await user.type(field, `${typed}{Enter}`);
      await user.tab();
      await waitFor(() => expect(given("DateField")).toBe(date));
      expect(field).toHaveValue(shown);
    }
    await user.clear(field);
    await user.type(field, "soon{Enter}");
    await user.tab();
    await waitFor(() => expect(field).toHaveValue("Mon 1 September 2025")); // no date changes nothing
  });

  it("hands on what was typed before Enter does more, and is emptied where it may be", async () => {
    vi.useFakeTimers({ toFake: ["Date"], now: new Date("2026-03-10T09:12:00") });
    const saved: string[] = [];
    function Until() {
      const [date, setDate] = useState("");
      return <DateField label="Until" optional value={date} onChange={setDate} onEnter={() => saved.push(date)} />;
    }
    const { user } = renderPage(<Until />);
    const field = await screen.findByLabelText("Until");
    await user.type(field, "thu{Enter}");
    await waitFor(() => expect(saved).toEqual(["2026-03-12"]));
    await user.clear(field);
    await user.type(field, "{Enter}");
    await waitFor(() => expect(saved).toEqual(["2026-03-12", ""]));
  });

  it("writes a time out when its field is left, and marks what is none", async () => {
    const { user } = renderPage(<Controls />);
    const field = await screen.findByLabelText("A time");
    await user.type(field, "925");
    await user.tab();
    expect(field).toHaveValue("09:25");
    await user.clear(field);
    await user.type(field, "soon");
    await user.tab();
    expect(field).toHaveValue("soon");
    expect(field.closest(".ant-input-status-error")).not.toBeNull();
  });

  it("opens by an arrow, finds among many by typing, ticks and counts", async () => {
    const { user } = renderPage(<Controls />);
    (await screen.findByRole("combobox", { name: "A reason" })).focus();
    await user.keyboard("{ArrowDown}");
    await waitFor(() => expect(document.querySelector(".ant-select-item-option-active")).toHaveTextContent("dentist"));
    await user.click(screen.getByText("doctor", { selector: ".ant-select-item-option-content" }));
    await waitFor(() => expect(given("Choice")).toBe("doctor"));
    await user.type(screen.getByRole("combobox", { name: "A form" }), "skua");
    expect(document.querySelectorAll(".ant-select-item-option")).toHaveLength(1 + reasons);
    await user.click(screen.getByText("10 Skua", { selector: ".ant-select-item-option-content" }));
    await waitFor(() => expect(given("Choice of many")).toBe("10 Skua"));
    await user.click(screen.getByRole("radio", { name: "letter" }));
    expect(given("OneOf")).toBe("letter");
    screen.getByRole("checkbox", { name: "may collect" }).focus();
    await user.keyboard(" ");
    expect(given("Tick")).toBe("no");
    const number = screen.getByLabelText("Time to send, minutes");
    number.focus();
    await user.keyboard("{ArrowUp}");
    expect(given("NumberField")).toBe("21");
  });

  it("takes several files at once, and asks for none before", async () => {
    const { user, container } = renderPage(<Controls />);
    await screen.findByText("Choose a document …");
    const input = container.querySelector("input[type=file]") as HTMLInputElement;
    await user.upload(input, [new File(["1"], "one.pdf"), new File(["2"], "two.pdf")]);
    await waitFor(() => expect(given("FileField")).toBe("2 files"));
  });
});
