import { newKey, Refusal, type Schemas, write } from "./client";

/** A register by date, class and slot. */
export type RegisterKey = { date: string; class: number; slot: string };

type Mark = Schemas["DraftMark"];
type Shared = Schemas["DraftView"];

/** One thing done to a register, on its way to the server: marks, or the whole register. */
type Step = { key: string; tried: boolean } & ({ marks: Mark[] } | { send: Schemas["SentMark"][]; paper?: Paper });

/** Who took a register on paper, and when, as typed; nobody where it was taken here. */
export type Paper = Pick<Schemas["SentRegister"], "takenBy" | "takenAt">;

/** A row that two people have marked differently. */
export type Clash = { mine: Mark; theirs: Shared };

/** How what was done here stands with the server. */
export type Line = "stored" | "storing" | "waiting" | "refused";

export type Snapshot = {
  line: Line;
  words: string; // why it was refused
  waiting: ReadonlyMap<number, Mark>; // by student: marks that the server has not acknowledged
  shared: ReadonlyMap<number, Shared>; // by student: what it acknowledged since the page opened
  clashes: ReadonlyMap<number, Clash>;
  finished: boolean; // the whole register is on its way
};

const prefix = "meldung marks";
const moment = 80; // ms in which a mark can change without others hearing of it
const pauses = [500, 1000, 2000, 4000, 8000];

let count = 0;
/** Names that sort in the order in which they were made, across tabs. */
function nextName(): string {
  count++;
  return `${Date.now().toString(36).padStart(9, "0")}${String(count).padStart(5, "0")}${newKey().slice(0, 4)}`;
}

function parse<T>(text: string | null): T | undefined {
  try {
    return text === null ? undefined : (JSON.parse(text) as T);
  } catch {
    return undefined;
  }
}

/**
 * What one person does to one register. Each step is written to the browser's storage
 * before anything else happens, and leaves it when the server has acknowledged it; steps
 * go out one at a time, in order, each with a key that makes a repeat do nothing. So a
 * lost line, a closed tab or a second tab of the same browser loses and doubles nothing.
 */
export class Outbox {
  private line: Line = "stored";
  private words = "";
  private readonly shared = new Map<number, Shared>();
  private readonly listeners = new Set<() => void>();
  private busy = false;
  private failures = 0;
  private again: ReturnType<typeof setTimeout> | undefined;
  private seen: Snapshot;

  constructor(
    readonly account: number,
    readonly register: RegisterKey,
    private readonly sent: (words: string, ok: boolean) => void,
  ) {
    this.seen = this.look();
  }

  private get base(): string {
    const { date, class: group, slot } = this.register;
    return `${prefix}|${this.account}|${date} ${group} ${slot}|`;
  }

  /** Under which it is kept why the register was not taken, until its teacher has looked at it. */
  private get refusal(): string {
    return `${this.base}refusal`;
  }

  private names(kind: "step" | "clash"): string[] {
    const start = `${this.base}${kind}|`;
    return Object.keys(localStorage)
      .filter((name) => name.startsWith(start))
      .sort();
  }

  private steps(): [name: string, step: Step][] {
    return this.names("step").flatMap((name) => {
      const step = parse<Step>(localStorage.getItem(name));
      return step ? [[name, step] as [string, Step]] : [];
    });
  }

  private save(name: string, value: Step | Clash) {
    localStorage.setItem(name, JSON.stringify(value));
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): Snapshot => this.seen;

  /** Whether something waits for the line to come back. */
  waits(): boolean {
    const { line, waiting, finished } = this.seen;
    return line === "waiting" && (waiting.size > 0 || finished);
  }

  /** Whether the register will not go out by itself: a row is in dispute, or the server refused it. */
  stuck(): boolean {
    return this.seen.words !== "" || this.seen.clashes.size > 0;
  }

  /** Its teacher has looked at the register that the server did not take. */
  lookedAt() {
    if (localStorage.getItem(this.refusal) === null) return;
    localStorage.removeItem(this.refusal);
    this.changed();
  }

  private look(): Snapshot {
    const waiting = new Map<number, Mark>();
    let finished = false;
    for (const [, step] of this.steps()) {
      if ("send" in step) finished = true;
      else for (const mark of step.marks) waiting.set(mark.student, mark);
    }
    const clashes = new Map<number, Clash>();
    for (const name of this.names("clash")) {
      const clash = parse<Clash>(localStorage.getItem(name));
      if (clash) clashes.set(clash.mine.student, clash);
    }
    const words = this.words || (localStorage.getItem(this.refusal) ?? "");
    return { line: this.line, words, waiting, shared: new Map(this.shared), clashes, finished };
  }

  /** Tells the pages; also when another tab has changed what is kept. */
  changed() {
    this.seen = this.look();
    for (const listener of this.listeners) listener();
  }

  /** Marks rows. A register that was finished and has not gone yet is taken back. */
  put(marks: Mark[]) {
    if (marks.length === 0) return;
    this.takeBack();
    for (const mark of marks) localStorage.removeItem(`${this.base}clash|${mark.student}`);
    const last = this.steps().at(-1);
    const [only] = marks;
    if (
      last &&
      !last[1].tried &&
      "marks" in last[1] &&
      marks.length === 1 &&
      last[1].marks.length === 1 &&
      last[1].marks[0]?.student === only?.student
    ) {
      this.save(last[0], { ...last[1], marks });
    } else {
      this.save(`${this.base}step|${nextName()}`, { key: newKey(), tried: false, marks });
    }
    this.changed();
    this.flushSoon();
  }

  /** Sends the whole register, after every mark. */
  send(marks: Schemas["SentMark"][], paper: Paper = {}) {
    this.takeBack();
    this.save(`${this.base}step|${nextName()}`, { key: newKey(), tried: false, send: marks, paper });
    this.changed();
    this.flush();
  }

  /** Takes a finished register back that has not gone out yet. */
  takeBack() {
    for (const [name, step] of this.steps()) if ("send" in step) localStorage.removeItem(name);
    this.changed();
  }

  /** Decides a row that two people marked: mine goes over theirs, or theirs stays. */
  decide(student: number, mine: boolean) {
    const clash = this.seen.clashes.get(student);
    if (!clash) return;
    if (mine) {
      this.put([{ ...clash.mine, seen: clash.theirs.version }]);
      return;
    }
    localStorage.removeItem(`${this.base}clash|${student}`);
    this.changed();
  }

  /** Learns what the server made of marks that went another way: what was taken, and what is in dispute. */
  learn(receipt: Schemas["DraftReceipt"], marks: Mark[]) {
    for (const row of receipt.taken) this.shared.set(row.student, row);
    for (const theirs of receipt.conflicts) {
      const mine = this.laterMark(theirs.student) ?? marks.find((m) => m.student === theirs.student);
      this.shared.set(theirs.student, theirs);
      if (mine) this.save(`${this.base}clash|${theirs.student}`, { mine, theirs });
      this.takeBack(); // nothing goes out over a row that is in dispute
    }
    for (const [later, step] of this.steps()) {
      const next = this.knowing(step, receipt);
      if ("marks" in next && next.marks.length === 0) localStorage.removeItem(later);
      else this.save(later, next);
    }
    this.changed();
  }

  /** Forgets what the server acknowledged: it has started the day again. */
  forget() {
    this.shared.clear();
    this.changed();
  }

  /** Drops what the server will not take. */
  discard() {
    for (const name of [...this.names("step"), ...this.names("clash"), this.refusal]) localStorage.removeItem(name);
    this.line = "stored";
    this.words = "";
    this.changed();
  }

  /**
   * Sends marks in a moment: what is taken back within it, as the first letter of a card in an open note is, is never
   * shared with others.
   */
  private flushSoon(): void {
    if (this.line !== "waiting") this.set("storing", "");
    clearTimeout(this.again);
    this.again = setTimeout(() => this.flush(), moment);
  }

  /** Sends what waits, unless it is being sent already. */
  flush(): void {
    clearTimeout(this.again);
    if (!this.busy) void this.run();
  }

  private async run() {
    this.busy = true;
    try {
      for (let next = this.steps()[0]; next; next = this.steps()[0]) {
        const [name, step] = next;
        if (!(await this.attempt(name, step))) return;
      }
      this.set("stored", "");
    } finally {
      this.busy = false;
    }
  }

  private set(line: Line, words: string) {
    this.line = line;
    this.words = words;
    this.changed();
  }

  /** Tries one step; says whether the next may follow. */
  private async attempt(name: string, step: Step): Promise<boolean> {
    if (!step.tried) this.save(name, { ...step, tried: true });
    // While the line is down the page goes on saying so, however often it is tried.
    if (this.line !== "waiting") this.set("storing", "");
    try {
      if ("send" in step) {
        const body = { ...this.register, marks: step.send, ...step.paper };
        const receipt = await write({ path: "/api/registers", body }, step.key);
        localStorage.removeItem(name);
        this.sent(receipt.text, true);
      } else {
        const body = { ...this.register, marks: step.marks };
        const receipt = await write({ path: "/api/registers/draft", body }, step.key);
        localStorage.removeItem(name);
        this.learn(receipt, step.marks);
      }
      this.failures = 0;
      if (this.line === "waiting") this.set("storing", "");
      return true;
    } catch (e) {
      this.failed(name, step, e as Error);
      return false;
    }
  }

  private laterMark(student: number): Mark | undefined {
    return this.steps()
      .flatMap(([, step]) => ("marks" in step ? step.marks : []))
      .filter((m) => m.student === student)
      .at(-1);
  }

  /** A later step as it is once an earlier one is stored: it was made knowing one's own mark. */
  private knowing(step: Step, receipt: Schemas["DraftReceipt"]): Step {
    const version = new Map(receipt.taken.map((row) => [row.student, row.version]));
    const disputed = new Set(receipt.conflicts.map((row) => row.student));
    if ("send" in step) {
      return { ...step, send: step.send.map((m) => ({ ...m, seen: version.get(m.student) ?? m.seen })) };
    }
    return {
      ...step,
      marks: step.marks
        .filter((m) => !disputed.has(m.student))
        .map((m) => ({ ...m, seen: version.get(m.student) ?? m.seen })),
    };
  }

  private failed(name: string, step: Step, e: Error) {
    const answered = e instanceof Refusal && e.status < 500;
    if (!answered || (e instanceof Refusal && e.status === 401)) {
      const pause = pauses[Math.min(this.failures++, pauses.length - 1)];
      this.again = setTimeout(() => this.flush(), pause);
      this.set("waiting", "");
      return;
    }
    if ("send" in step) {
      localStorage.removeItem(name);
      localStorage.setItem(this.refusal, e.message);
      this.set("stored", "");
      this.sent(`${e.message}. Your marks are kept.`, false);
      return;
    }
    this.set("refused", e.message);
  }
}

const outboxes = new Map<string, Outbox>();
const listeners = new Set<() => void>();
let tell: (words: string, ok: boolean) => void = () => undefined;

/** The one outbox of a person and a register in this tab. */
export function outboxOf(account: number, register: RegisterKey): Outbox {
  const name = `${account}|${register.date} ${register.class} ${register.slot}`;
  let box = outboxes.get(name);
  if (!box) {
    box = new Outbox(account, register, (words, ok) => tell(words, ok));
    outboxes.set(name, box);
    box.subscribe(() => {
      for (const listener of listeners) listener();
    });
    box.flush();
  }
  return box;
}

/** Everything a person's browser keeps: from an earlier tab, or while the line is down. */
export function outboxesOf(account: number): Outbox[] {
  for (const name of Object.keys(localStorage)) {
    const [kind, owner, register] = name.split("|");
    if (kind !== prefix || owner !== String(account) || !register) continue;
    const [date = "", group, ...slot] = register.split(" ");
    outboxOf(account, { date, class: Number(group), slot: slot.join(" ") });
  }
  return [...outboxes.values()].filter((box) => box.account === account);
}

/** Forgets the outboxes of this tab, not what they keep: for tests. */
export function forgetOutboxes() {
  outboxes.clear();
}

/** Follows all outboxes of a person, and sends what waits when the line comes back. */
export function followOutboxes(
  account: number,
  changed: () => void,
  said: (words: string, ok: boolean) => void,
): () => void {
  tell = said;
  listeners.add(changed);
  const back = () => {
    for (const box of outboxesOf(account)) box.flush();
  };
  const elsewhere = (event: StorageEvent) => {
    if (!event.key?.startsWith(prefix)) return;
    for (const box of outboxesOf(account)) box.changed();
  };
  window.addEventListener("online", back);
  window.addEventListener("storage", elsewhere);
  back();
  return () => {
    listeners.delete(changed);
    window.removeEventListener("online", back);
    window.removeEventListener("storage", elsewhere);
  };
}
