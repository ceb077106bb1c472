import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { renderPage, student, testServer } from "../../test-page";
import { ContactForm, type ContactOf } from "./ContactForm";

const ida: ContactOf = {
  id: 4,
  order: 2,
  name: "Ida Merrow",
  given: "Ida",
  family: "Merrow",
  relation: "mother",
  phone: "07700 900 003",
  sms: "07700 900 003",
  email: "",
  shared: "Ansa Merrow",
  mayCollect: true,
  livesWith: true,
  doNotCall: false,
};
const elis = student(1, "Elis Merrow");

describe("a contact", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is added by keys alone", async () => {
    const server = testServer({});
    const { user } = renderPage(<ContactForm student={elis} mayEnd={false} done={() => undefined} />);
    await user.keyboard("Berit{Tab}Merrow{Tab}grandmother{Tab}07700 900 555{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/contacts",
        body: {
          student: 1,
          contact: 0,
          given: "Berit",
          family: "Merrow",
          relation: "grandmother",
          phone: "07700 900 555",
          place: 0,
          doNotCall: false,
        },
      }),
    );
    expect(screen.queryByRole("button", { name: /No contact any more/ })).toBeNull();
  });

  it("is changed, and says whose number it is too", async () => {
    const server = testServer({});
    const done = vi.fn();
    const { user } = renderPage(<ContactForm student={elis} contact={ida} mayEnd done={done} />);
    expect(screen.getByText("Name and numbers are those of Ansa Merrow too.")).toBeInTheDocument();
    await user.clear(screen.getByLabelText("phone, as given"));
    await user.type(screen.getByLabelText("phone, as given"), "01632 960 010");
    await user.type(screen.getByLabelText("Place in the call order"), "1");
    await user.click(screen.getByRole("checkbox", { name: "must not be called" }));
    await user.click(screen.getByRole("button", { name: /^Save/ }));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]?.body).toMatchObject({
      contact: 4,
      phone: "01632 960 010",
      place: 1,
      doNotCall: true,
      mayCollect: true,
    });
  });

  it("is taken off with a reason, and not without", async () => {
    const server = testServer({});
    const { user } = renderPage(<ContactForm student={elis} contact={ida} mayEnd done={() => undefined} />);
    await user.click(screen.getByRole("button", { name: /No contact any more/ }));
    await user.keyboard("{Enter}");
    expect(server.sent).toHaveLength(0);
    await user.keyboard("moved away{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/contacts/end",
        body: { student: 1, contact: 4, why: "moved away" },
      }),
    );
  });
});
