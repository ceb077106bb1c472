import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import { Warnings, WarningTags } from "./WarningForm";

const juno = student(7, "Juno Sandal");
const epilepsy: Schemas["WarningNow"] = {
  id: 3,
  text: "epilepsy",
  careFirst: true,
  document: "plan.pdf",
  changed: "added, R. Tolvan, Tue 10 March",
};

const show = (mayChange = true) =>
  renderPage(<Warnings student={juno} words={["epilepsy"]} now={mayChange ? [epilepsy] : []} mayChange={mayChange} />);

const chooser = () => document.querySelector<HTMLInputElement>("input[type=file]") as HTMLInputElement;

describe("warnings", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are words alone for those who may not see the document", () => {
    renderPage(<WarningTags student={juno} words={["epilepsy"]} now={[]} />);
    expect(screen.getByText("epilepsy")).toBeInTheDocument();
    expect(screen.queryByRole("link")).toBeNull();
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("open their document", () => {
    show();
    expect(screen.getByRole("link", { name: "document" })).toHaveAttribute(
      "href",
      "/api/students/7/warnings/3/document",
    );
  });

  it("are added by keys, with a file", async () => {
    const server = testServer({});
    const { user } = show();
    await user.click(screen.getByRole("button", { name: "Add a warning" }));
    await user.keyboard("faints");
    await user.upload(chooser(), new File(["%PDF-1.7"], "order.pdf", { type: "application/pdf" }));
    await screen.findByText("order.pdf");
    await user.click(screen.getByRole("checkbox", { name: "ring about first" }));
    await user.click(screen.getByRole("button", { name: /^Save/ }));
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/warnings",
        body: {
          student: 7,
          warning: 0,
          text: "faints",
          careFirst: true,
          document: { name: "order.pdf", content: btoa("%PDF-1.7") },
        },
      }),
    );
  });

  it("refuse a file that is too large before it is sent", async () => {
    const server = testServer({});
    const { user } = show();
    await user.click(screen.getByRole("button", { name: "Add a warning" }));
    await user.upload(chooser(), new File([new Uint8Array((5 << 20) + 1)], "scan.pdf", { type: "application/pdf" }));
    expect(await screen.findByRole("alert")).toHaveTextContent("scan.pdf has 5.0 MB; at most 5 MB are kept.");
    expect(server.sent).toHaveLength(0);
  });

  it("lose their document only when that is asked for", async () => {
    const server = testServer({});
    const { user } = show();
    await user.click(screen.getByRole("button", { name: "Change the warning epilepsy" }));
    await user.keyboard(", rare{Enter}");
    await waitFor(() => expect(server.sent[0]?.body).toMatchObject({ warning: 3, text: "epilepsy, rare" }));
    expect(server.sent[0]?.body).toMatchObject({ noDocument: false });
    expect(server.sent[0]?.body).not.toHaveProperty("document");
    await user.click(screen.getByRole("button", { name: "Change the warning epilepsy" }));
    await user.click(screen.getByRole("button", { name: "no document" }));
    await user.click(screen.getByRole("button", { name: /^Save/ }));
    await waitFor(() => expect(server.sent[1]?.body).toMatchObject({ noDocument: true }));
  });

  it("end with a reason, and not without", async () => {
    const server = testServer({});
    const { user } = show();
    await user.click(screen.getByRole("button", { name: "Change the warning epilepsy" }));
    await user.click(screen.getByRole("button", { name: /Holds no longer/ }));
    await user.keyboard("{Enter}");
    expect(server.sent).toHaveLength(0);
    await user.keyboard("tested again{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/warnings/end",
        body: { student: 7, warning: 3, why: "tested again" },
      }),
    );
  });
});
