import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, testServer } from "../../test-page";
import { CodesEditor } from "./CodesEditor";

const code = (c: string, more: Partial<Schemas["CodeForm"]> = {}): Schemas["CodeForm"] => ({
  code: c,
  word: "",
  counts: "attended",
  late: false,
  medical: false,
  onSite: false,
  unexplained: false,
  minutesAs: "",
  uses: [],
  half: "",
  ...more,
});

describe("a code set that is edited", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is checked as it is typed, and looked at once it reads right under a name of its own", async () => {
    const server = testServer({
      "/api/school/codes/draft": ({ body }: { body: Schemas["CodesDraft"] }): Schemas["CodesDrafted"] => {
        const twice = (body.codes ?? []).filter((c) => c.code === "P").length > 1;
        return {
          text: body.text ?? `codes: ${(body.codes ?? [code("P")]).map((c) => c.code).join(" ")}`,
          codes: twice ? [] : (body.codes ?? [code("P", { word: "present", onSite: true, uses: ["present"] })]),
          line: twice ? 3 : 0,
          problem: twice ? 'code "P" is there twice' : "",
          lacks: [],
          taken: ["plain"],
          uses: ["present", "not_required"],
        };
      },
    });
    const done = vi.fn();
    const { user } = renderPage(<CodesEditor copy="plain" done={done} close={() => undefined} />);
    expect(await screen.findByRole("textbox", { name: "P: word" })).toHaveValue("present");
    const look = screen.getByRole("button", { name: "See what it would mean" });
    expect(look).toBeDisabled();
    await user.click(screen.getByRole("button", { name: "Add a code" }));
    await user.type(screen.getByRole("textbox", { name: "Code 2" }), "P");
    expect(await screen.findByText('Line 3: code "P" is there twice')).toBeInTheDocument();
    await user.clear(screen.getByRole("textbox", { name: "Code 2" }));
    await user.type(screen.getByRole("textbox", { name: "Code 2" }), "Z");
    await choose(user, "Z: counts as", "void");
    await choose(user, "Z: used for", "not required");
    expect(await screen.findByText("It reads right.")).toBeInTheDocument();
    await waitFor(() =>
      expect((server.sent.at(-1)?.body as Schemas["CodesDraft"] | undefined)?.codes?.[1]).toMatchObject({
        code: "Z",
        counts: "void",
        uses: ["not_required"],
      }),
    );
    await user.clear(screen.getByRole("textbox", { name: "Name" }));
    await user.type(screen.getByRole("textbox", { name: "Name" }), "plain");
    expect(await screen.findByText(/There is a set called plain/)).toBeInTheDocument();
    await user.type(screen.getByRole("textbox", { name: "Name" }), "er");
    await waitFor(() => expect(look).toBeEnabled());
    await user.click(look);
    expect(done).toHaveBeenCalledWith("plainer", "codes: P Z");
  });
});
