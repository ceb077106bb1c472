import { render, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { Shape, stateWords } from "./Shape";

describe("shapes", () => {
  it("says each state in a word, since colour is never alone", () => {
    for (const [state, words] of Object.entries(stateWords)) {
      const { unmount } = render(<Shape state={state} />);
      expect(screen.getByRole("img", { name: words })).toBeInTheDocument();
      unmount();
    }
  });

  it("draws each state differently", () => {
    const drawn = Object.keys(stateWords).map((s) => {
      const { container, unmount } = render(<Shape state={s} silent />);
      const html = container.querySelector("svg")?.innerHTML;
      unmount();
      return html;
    });
    expect(new Set(drawn).size).toBe(drawn.length);
  });

  it("draws nothing for what is no state", () => {
    const { container } = render(<Shape state="lost" />);
    expect(container).toBeEmptyDOMElement();
  });
});
