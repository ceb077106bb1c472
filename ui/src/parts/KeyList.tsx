import { singleKeys } from "./keys";

type List = { title: string; at: string; keys: [string, string][] };

const everywhere = "";

const lists: List[] = [
  {
    title: "Everywhere",
    at: everywhere,
    keys: [
      [
        "/",
        "the quick line: a name, then in, out, late, ill, away, incident; 845-925 says how long that is; a question finds the page; ↓ and Enter, a pinned page",
      ],
      ["!", "note an incident: who, what kind, where; Ctrl+Enter saves"],
      ["?", "this list, and a question: which page does what; Enter, the first pinned page"],
      ["← →", "on the rail: a minute earlier or later; with Shift five"],
      ["Esc", "leave; on the rail, back to live"],
    ],
  },
  {
    title: "Today",
    at: "/today",
    keys: [
      ["↑ ↓", "choose a household"],
      ["1 2 3 4", "spoke, left a message, no answer, wrong number"],
      ["→", "next contact"],
      ["i a w y", "after spoke: ill, appointment, on the way, away"],
      ["5", "spoke, home believes they are at school: worried for"],
      ["Enter", "save the call"],
      ["N", "call from home: a notice"],
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
    at: "/registers",
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
      ["1 2", "two marks for one row: their mark is right, mine is right"],
      ["Ctrl+Enter", "send"],
    ],
  },
  {
    title: "Steps due",
    at: "/absence/steps",
    keys: [
      ["↑ ↓", "choose a step"],
      ["Space", "tick it, or take the tick off"],
      ["D", "done: with what came of it"],
      ["O", "put off until a date"],
      ["H", "hand to somebody"],
      ["P", "print the letters that are ticked, or the one chosen"],
    ],
  },
  {
    title: "Follow-up",
    at: "/follow-up",
    keys: [
      ["↑ ↓", "choose a student"],
      ["1 2 3 4", "spoke, left a message, no answer, wrong number"],
      ["M", "met the student"],
      ["→", "next contact; on support by week, the week after"],
      ["Enter", "log a contact; in its line, save it"],
      ["L", "write a support session down; Ctrl+Enter saves"],
    ],
  },
  {
    title: "Lists on paper",
    at: "/papers",
    keys: [
      ["P", "print the list"],
      ["Alt+← Alt+→", "in a heading on the page: move its column; with Shift narrower, wider"],
      ["Alt+Delete", "in a heading: take its column off"],
    ],
  },
  {
    title: "Desk",
    at: "/desk",
    keys: [
      ["name, ↑ ↓, Enter", "choose the student"],
      ["Alt+A Alt+L", "arriving, leaving"],
      ["Alt+1 … 9", "reason"],
      ["Enter", "save"],
      ["Ctrl+Enter", "save, and print a pass"],
      ["scan", "a card chooses its student; a pass is back"],
    ],
  },
];

/** The keys of this page first, then those that hold everywhere, then the others'. */
export function KeyList({ path }: { path: string }) {
  const first = (l: List) => (l.at === everywhere ? 1 : path.startsWith(l.at) ? 0 : 2);
  return (
    <div className="all-keys">
      {singleKeys.off() && (
        <p role="status">Single letters and signs are switched off as keys; your menu switches them on.</p>
      )}
      {[...lists]
        .sort((a, b) => first(a) - first(b))
        .map((l) => (
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
