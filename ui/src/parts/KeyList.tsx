const lists: { title: string; keys: [string, string][] }[] = [
  {
    title: "Everywhere",
    keys: [
      ["/", "the quick line: a name, then in, out, late, ill, away"],
      ["?", "this list"],
      ["← →", "on the rail: a minute earlier or later; with Shift five"],
      ["Esc", "leave; on the rail, back to live"],
    ],
  },
  {
    title: "Today",
    keys: [
      ["↑ ↓", "choose a household"],
      ["1 2 3 4", "spoke, left a message, no answer, wrong number"],
      ["→", "next contact"],
      ["i a w y t", "after spoke: ill, appointment, on the way, away, truant"],
      ["Enter", "store the call"],
      ["N", "home rings in: a notice"],
      ["E", "accept the first answer from a home as a notice"],
      ["K", "only those who share the first cause, or everyone"],
      ["H X", "hold homes until a time; text homes: those shown"],
      ["S F G", "search, found, give up or ring home: the student at the top of “on site”"],
      ["R", "remind the teacher whose register is longest overdue"],
      ["C", "close safe arrival"],
    ],
  },
  {
    title: "Registers",
    keys: [
      ["a code’s key", "marks the row; the school’s own stand beside the register"],
      ["late, then 5 or 850", "late by five minutes; came at 08:50"],
      ["A", "everyone else is in"],
      ["F", "find a name"],
      [";", "note"],
      ["Backspace", "take the mark off"],
      ["S", "by seat, or as a list; arrows move over the seats"],
      ["T", "arrange the seats, unless a code has the key: Space lifts and sets down"],
      ["C", "show the class its check-in code, unless a code has the key"],
      ["1 2", "someone marked the row otherwise: theirs stands, mine stands"],
      ["Ctrl+Enter", "send"],
    ],
  },
  {
    title: "Desk",
    keys: [
      ["name, ↑ ↓, Enter", "choose the student"],
      ["Alt+A Alt+L", "arriving, leaving"],
      ["Alt+1 … 9", "reason"],
      ["Enter", "store"],
      ["Ctrl+Enter", "store, and print a pass"],
      ["scan", "a card chooses its student; a pass is back"],
    ],
  },
];

/** All keys, by place. */
export function KeyList() {
  return (
    <div className="all-keys">
      {lists.map((l) => (
        <section key={l.title}>
          <h3>{l.title}</h3>
          <dl>
            {l.keys.map(([k, words]) => (
              <div key={k}>
                <dt>
                  <kbd>{k}</kbd>
                </dt>
                <dd>{words}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </div>
  );
}
