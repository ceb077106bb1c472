import { render, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { Long } from "./Long";

const rows = (n: number) => Array.from({ length: n }, (_, i) => ({ id: i, name: `Student ${i}` }));

const show = (n: number) =>
  render(
    <table>
      <tbody>
        <Long rows={rows(n)} height={30} keyOf={(r) => r.id} as="tr">
          {(r, place) => (
            <tr {...place}>
              <td>{r.name}</td>
            </tr>
          )}
        </Long>
      </tbody>
    </table>,
  );

describe("a long list", () => {
  it("shows a short one whole", () => {
    show(60);
    expect(screen.getAllByRole("row")).toHaveLength(60);
    expect(document.querySelector(".gap")).toBeNull();
  });

  it("has on the page what the window shows, and room for the rest", () => {
    show(2000);
    const shown = screen.getAllByRole("row");
    expect(shown.length).toBeGreaterThan(10);
    expect(shown.length).toBeLessThan(60);
    expect(screen.getByText("Student 0")).toBeInTheDocument();
    expect(screen.queryByText("Student 1000")).not.toBeInTheDocument();
    const gaps = [...document.querySelectorAll<HTMLElement>(".gap")].map((g) => Number.parseFloat(g.style.height));
    expect(gaps[0]).toBe(0);
    expect(gaps[1]).toBeGreaterThan(1900 * 25);
  });
});
