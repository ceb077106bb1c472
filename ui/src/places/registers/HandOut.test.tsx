import { screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, testServer } from "../../test-page";
import { HandOut } from "./HandOut";

const date = (label: string, change: Partial<Schemas["HandOutDate"]> = {}): Schemas["HandOutDate"] => ({
  date: label,
  label,
  slot: "PM registration",
  from: "13:45",
  to: "13:55",
  room: "room 20",
  opens: "",
  closes: "",
  question: "",
  link: "",
  picture: "",
  ...change,
});

const sheet: Schemas["HandOut"] = {
  school: "Fairlead School",
  class: 48,
  title: "8 Halyard",
  teachers: "P. Osk",
  text: "Bring a pencil.",
  address: "https://school.example/check-in",
  picture: "AAAA",
  dates: [
    date("Wed 11 March"),
    date("Thu 12 March", {
      opens: "13:45",
      closes: "13:49",
      question: "One word?",
      link: "https://school.example/check-in?l=3.abc",
      picture: "BBBB",
    }),
  ],
};

afterEach(() => vi.unstubAllGlobals());

it("tells a class where and when to check in, with what its teacher adds", async () => {
  const server = testServer({ "/api/classes/48/hand-out": sheet });
  const { user } = renderPage(<HandOut />, "/registers/check-ins/48/hand-out", "/registers/check-ins/:class/hand-out");
  expect(await screen.findByRole("heading", { name: "Checking in: 8 Halyard" })).toBeInTheDocument();
  expect(screen.getByAltText("QR code of https://school.example/check-in")).toHaveAttribute(
    "src",
    "data:image/png;base64,AAAA",
  );
  expect(screen.getByText("your teacher opens it")).toBeInTheDocument();
  expect(screen.getByText("13:45 to 13:49")).toBeInTheDocument();
  expect(screen.getByText("https://school.example/check-in?l=3.abc")).toBeInTheDocument();
  await user.type(screen.getByLabelText("What else the class is told"), " And a ruler.");
  await user.click(screen.getByRole("button", { name: "Save the text" }));
  await waitFor(() => expect(server.sent[0]?.body).toEqual({ text: "Bring a pencil. And a ruler." }));
});
