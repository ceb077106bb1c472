import "./registers.css";
import { Button, Input } from "antd";
import { useState } from "react";
import { useRead } from "../../api/client";
import { holdCard } from "../../parts/scanner";

/** The stand-in of a card reader, in a window beside the register it is connected to. */
export default function Reader() {
  const params = new URLSearchParams(window.location.search);
  const register = useRead("/api/registers/{class}/{slot}", {
    class: Number(params.get("class")),
    slot: params.get("slot") ?? "",
  });
  const [card, setCard] = useState("");
  const [held, setHeld] = useState("");
  const to = window.opener as Window | null;
  const hold = (code: string) => {
    if (!to || !code) return;
    holdCard(to, code);
    setHeld(code);
  };
  return (
    <main className="page registers-place reader">
      <h1>Card reader (simulated)</h1>
      <p className="look-small look-muted">
        {to
          ? "Connected to the window it was opened from. It types a card’s number there, as a reader would."
          : "Not connected: open it from a register."}
      </p>
      <div className="look-line">
        <Input
          aria-label="Card number"
          placeholder="any card number"
          value={card}
          onChange={(e) => setCard(e.target.value.trim())}
          onPressEnter={() => hold(card)}
        />
        <Button onClick={() => hold(card)} disabled={!to || !card}>
          Hold this card
        </Button>
      </div>
      <p className="look-small" role="status">
        {held && `Read ${held}.`}
      </p>
      <ul>
        {register.data?.rows
          .filter((r) => r.card)
          .map((r) => (
            <li key={r.card}>
              <Button size="small" disabled={!to} onClick={() => hold(r.card)}>
                {r.student.sorted}
              </Button>{" "}
              <span className="look-small look-muted">{r.card}</span>
            </li>
          ))}
      </ul>
    </main>
  );
}
