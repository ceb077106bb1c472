import { act, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, describe, expect, it } from "vitest";
import { keepFocusInLists, useFocusBack } from "./focus";

function Opened({ close }: { close: () => void }) {
  useFocusBack();
  return (
    // biome-ignore lint/a11y/noAutofocus: as a dialogue does
    <button type="button" autoFocus onClick={close}>
      close
    </button>
  );
}

function Page() {
  const [open, setOpen] = useState(false);
  const [rows, setRows] = useState(["one", "two", "three"]);
  return (
    <>
      <button type="button" onClick={() => setOpen(true)}>
        open
      </button>
      {open && <Opened close={() => setOpen(false)} />}
      <ul>
        {rows.map((r) => (
          <li key={r}>
            <button type="button">look at {r}</button>
            <button type="button" onClick={() => setRows(rows.filter((o) => o !== r))}>
              settle {r}
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

describe("the focus", () => {
  let end = () => {};
  afterEach(() => end());

  it("comes back to where it was when what was opened closes", async () => {
    const user = userEvent.setup();
    render(<Page />);
    await user.tab();
    await user.keyboard("{Enter}");
    expect(screen.getByText("close")).toHaveFocus();
    await user.keyboard("{Enter}");
    await waitFor(() => expect(screen.getByText("open")).toHaveFocus());
  });

  it("goes to the row that comes to stand where one was taken off", async () => {
    const user = userEvent.setup();
    end = keepFocusInLists();
    render(<Page />);
    act(() => screen.getByText("settle two").focus());
    await user.keyboard("{Enter}");
    await waitFor(() => expect(screen.getByText("settle three")).toHaveFocus());
    await user.keyboard("{Enter}");
    await waitFor(() => expect(screen.getByText("settle one")).toHaveFocus());
  });
});
