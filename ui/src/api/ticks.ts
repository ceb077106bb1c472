import { newKey, Refusal, read, type Schemas, write } from "./client";

type Person = Schemas["PersonView"];
type Tick = Schemas["TickView"];
export type RollCallList = Schemas["RollCallView"];

/** What a tick says, before the server knows of it. */
export type NewTick = Pick<Schemas["NewTick"], "kind" | "person" | "name" | "here" | "place" | "how">;

/** A tick as it is kept until the server has it. */
type Kept = NewTick & { token: string; made: number; undo?: boolean }; // made: ms, by this machine's clock

/** A roll call as this machine knows it. Without an id it was begun here, and the server has not heard of it. */
type Call = { id: number; token: string; kind: "drill" | "real"; began: string; made: number };

/** What a person's row shows of their tick. */
export type Shown = { token: string; at: string; here: boolean; place: string; by: string; waiting: boolean };

export type RollCallState = {
  list: RollCallList | undefined;
  call: Call | undefined;
  line: boolean; // whether the server answers
  lost: string; // since when it does not, HH:MM
  waiting: number; // ticks that are kept here alone
  refused: string[]; // what the server would not take, a sentence each
  ticks: ReadonlyMap<string, Shown>; // by keyOf
  now: ReadonlyMap<number, string>; // by student: what is known by now of the last to be found
  ended: string; // how it ended, while this page was open
  out: boolean; // nobody is signed in any more
};

export const keyOf = (p: { kind: string; person: number }) => `${p.kind} ${p.person}`;

const prefix = "meldung roll";
const longAgo = 86_400; // s: the server takes no more, and looks at nothing of before the roll call
const batch = 200; // ticks in one request
const gather = 150; // ms in which ticks go out together
const retry = 2_000; // ms before the server is tried again
const look = 5_000; // ms between looks while one runs, should an event have been missed
const idle = 60_000; // ms between looks while none does
const keeps = 12 * 3_600_000; // ms for which a list that was loaded is of use

function parse<T>(text: string | null): T | undefined {
  try {
    return text === null ? undefined : (JSON.parse(text) as T);
  } catch {
    return undefined;
  }
}

let count = 0;

const clock = (ms: number) => new Date(ms).toTimeString().slice(0, 8);

/**
 * A roll call on one machine. The list, the beginning and every tick are in the browser's storage before anything
 * else happens; ticks leave it when the server has them, each with a token by which it is stored once. So ticking
 * goes on with the line down, over a reload too, and joins up after. When the roll call ends or nobody is signed in
 * any more, everything of it is removed.
 */
export class RollCallBox {
  private line = true;
  private lost = "";
  private refused: string[] = [];
  private out = false;
  private read: { text: string | null; kept?: { loaded: number; list: RollCallList } } = { text: null };
  private ended = "";
  private seq = 0;
  private known = new Map<string, Tick>(); // by token
  private now = new Map<number, string>();
  private busy = false;
  private once = false; // something came while it was busy
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly listeners = new Set<() => void>();
  private state: RollCallState;

  constructor(
    readonly account: number,
    private readonly again = retry,
  ) {
    const had = parse<{ seq: number; ticks: Tick[] }>(localStorage.getItem(this.name("known")));
    this.seq = had?.seq ?? 0;
    for (const t of had?.ticks ?? []) this.known.set(t.token, t);
    this.state = this.look();
  }

  private name(kind: "list" | "call" | "known" | "tick", more = "") {
    return `${prefix}|${this.account}|${kind}|${more}`;
  }

  private get list(): RollCallList | undefined {
    const text = localStorage.getItem(this.name("list"));
    if (text !== this.read.text) this.read = { text, kept: parse(text) }; // it is long, and looked at with every tick
    const { kept } = this.read;
    return kept && Date.now() - kept.loaded < keeps ? kept.list : undefined;
  }

  private get call(): Call | undefined {
    return parse(localStorage.getItem(this.name("call")));
  }

  private kept(): [name: string, tick: Kept][] {
    const start = this.name("tick");
    return Object.keys(localStorage)
      .filter((n) => n.startsWith(start))
      .sort()
      .flatMap((n) => {
        const tick = parse<Kept>(localStorage.getItem(n));
        return tick ? [[n, tick] as [string, Kept]] : [];
      });
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): RollCallState => this.state;

  /** Tells the page; also when another tab has changed what is kept. */
  changed = () => {
    this.state = this.look();
    for (const listener of this.listeners) listener();
  };

  private look(): RollCallState {
    const kept = this.kept();
    const undone = new Set(kept.filter(([, t]) => t.undo).map(([, t]) => t.token));
    const ticks = new Map<string, Shown>();
    const put = (key: string, t: Shown) => {
      const before = ticks.get(key);
      if (!before || (t.here && !before.here)) ticks.set(key, t);
    };
    for (const t of [...this.known.values()].sort((a, b) => a.at.localeCompare(b.at)))
      if (!t.undone && !undone.has(t.token)) put(keyOf(t), { ...t, waiting: false });
    for (const [, t] of kept)
      if (!t.undo && !undone.has(t.token) && !this.known.has(t.token))
        put(t.person ? keyOf({ kind: t.kind, person: t.person }) : `name ${t.token}`, {
          token: t.token,
          at: clock(t.made),
          here: t.here,
          place: t.place ?? "",
          by: "",
          waiting: true,
        });
    const { line, lost, refused, now, ended, out } = this;
    return { list: this.list, call: this.call, line, lost, waiting: kept.length, refused, ticks, now, ended, out };
  }

  /** Those who were met and are on no list, with their names, while the server has not heard of them. */
  met(): { token: string; name: string }[] {
    return this.kept().flatMap(([, t]) => (t.person || t.undo ? [] : [{ token: t.token, name: t.name ?? "" }]));
  }

  /** Begins a roll call, with the list that was last loaded where the line is down. */
  begin(kind: "drill" | "real") {
    if (this.call) return;
    const made = Date.now();
    this.ended = "";
    this.saveCall({ id: 0, token: newKey(), kind, began: clock(made).slice(0, 5), made });
    this.changed();
    this.flush(0);
  }

  private saveCall(call: Call) {
    localStorage.setItem(this.name("call"), JSON.stringify(call));
  }

  /** Ticks somebody. */
  tick(t: NewTick) {
    this.keep({ ...t, token: newKey(), made: Date.now() });
  }

  /** Takes a tick back. */
  undo(shown: Shown, { kind, person }: Pick<Person, "kind" | "person">) {
    this.keep({ kind, person, here: shown.here, how: "list", token: shown.token, made: Date.now(), undo: true });
  }

  /** Writes a tick down before anything else happens, after those that are kept. */
  private keep(t: Kept) {
    count++;
    const order = `${t.made.toString(36).padStart(9, "0")}${String(count).padStart(5, "0")}${t.token.slice(0, 4)}`;
    localStorage.setItem(this.name("tick", order), JSON.stringify(t));
    this.changed();
    this.flush(gather);
  }

  /** Everything of the roll call leaves this machine. */
  forget(how = "") {
    for (const n of Object.keys(localStorage))
      if (n.startsWith(`${prefix}|${this.account}|`)) localStorage.removeItem(n);
    this.known.clear();
    this.now.clear();
    this.seq = 0;
    this.ended = how;
    this.changed();
  }

  /** Nobody is signed in: the list goes, and ticks that the server has not heard of wait for their person. */
  private signedOut() {
    if (this.kept().length === 0) this.forget();
    else localStorage.removeItem(this.name("list"));
    this.out = true;
    this.changed();
  }

  dismiss() {
    this.refused = [];
    this.changed();
  }

  /** Talks to the server soon: what waits goes out, what came in is taken over. */
  flush = (after = 0) => {
    if (this.busy) {
      this.once = true;
      return;
    }
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.run(), after);
  };

  stop() {
    clearTimeout(this.timer);
  }

  private async run() {
    this.busy = true;
    this.once = false;
    let next = idle;
    try {
      await this.talk();
      this.out = false;
      if (this.call) next = look;
      if (!this.line) this.refresh(true);
    } catch (e) {
      next = this.again;
      this.failed(e as Error);
    } finally {
      this.busy = false;
      this.flush(this.once ? gather : next);
    }
  }

  private refresh(line: boolean) {
    this.line = line;
    this.lost = line ? "" : clock(Date.now()).slice(0, 5);
    this.changed();
  }

  private failed(e: Error) {
    if (e instanceof Refusal && e.status === 401) this.signedOut();
    else if (e instanceof Refusal && e.status === 404) this.forget(`${e.message}.`);
    else if (e instanceof Refusal && e.status < 500) {
      this.refused = [...new Set([...this.refused, e.message])];
      this.changed();
    } else if (this.line) this.refresh(false);
  }

  private async talk() {
    if (this.ended) {
      // Nobody's list is loaded again for what is over; another roll call is.
      if (!(await read("/api/roll-call/running")).id) return;
      this.ended = "";
    }
    if (!this.call) {
      await this.load();
      if (!this.call) return;
    }
    if (this.call.id === 0) await this.sendBegin(this.call);
    await this.sendTicks();
    await this.fetchTicks();
  }

  /** Fetches the list: that of the roll call which runs, or as it would be now. */
  private async load() {
    const list = await read("/api/roll-call");
    localStorage.setItem(this.name("list"), JSON.stringify({ loaded: Date.now(), list }));
    const { id, kind, began } = list.running;
    if (id && this.call?.id !== id) {
      this.saveCall({ id, token: this.call?.token ?? "", kind: kind as Call["kind"], began, made: Date.now() });
      this.seq = 0;
      this.known.clear();
      localStorage.removeItem(this.name("known"));
      this.ended = "";
    } else if (id && this.call) this.saveCall({ ...this.call, kind: kind as Call["kind"], began });
    this.changed();
  }

  private async sendBegin(call: Call) {
    const ago = Math.round((Date.now() - call.made) / 1000);
    const begun = await write({ path: "/api/roll-calls", body: { token: call.token, kind: call.kind, ago } });
    this.saveCall({ ...call, id: begun.id });
    await this.load();
  }

  private async sendTicks() {
    for (let kept = this.kept().slice(0, batch); kept.length > 0; kept = this.kept().slice(0, batch)) {
      const ticks = kept.map(([, { made, ...t }]) => ({
        ...t,
        ago: Math.min(longAgo, Math.max(0, Math.round((Date.now() - made) / 1000))),
      }));
      const roll = this.call?.id ?? 0;
      const taken = await write({ path: "/api/roll-calls/{roll}/ticks", params: { roll }, body: { ticks } });
      for (const one of taken.refused) {
        const lost = kept.find(([, t]) => t.token === one.token)?.[1];
        this.refused = [...this.refused, `${this.called(lost)}: not saved, ${one.text}`];
      }
      for (const [name] of kept) localStorage.removeItem(name);
    }
  }

  private called(t: Kept | undefined): string {
    if (!t) return "One tick";
    const list = this.list;
    const person = [...(list?.people ?? []), ...(list?.others ?? [])].find(
      (p) => t.person && keyOf(p) === keyOf({ kind: t.kind, person: t.person }),
    );
    return person?.name ?? t.name ?? "One tick";
  }

  private async fetchTicks() {
    const call = this.call;
    if (!call?.id) return;
    const view = await read("/api/roll-calls/{roll}/ticks", { roll: call.id, after: this.seq }).catch((e: Error) => {
      if (e instanceof Refusal && e.status === 409) return undefined; // it has ended
      throw e;
    });
    if (!view || view.ended) {
      this.forget(view ? `The roll call was ended at ${view.ended}.` : "The roll call has ended.");
      return;
    }
    for (const t of view.ticks) this.known.set(t.token, t);
    this.seq = view.seq;
    if (view.ticks.length > 0)
      localStorage.setItem(this.name("known"), JSON.stringify({ seq: this.seq, ticks: [...this.known.values()] }));
    this.now = new Map(view.now.map((n) => [n.person, n.text]));
    if (view.kind !== call.kind) this.saveCall({ ...call, kind: view.kind });
    if (view.added !== this.list?.people.length || this.list.running.id !== call.id) await this.load();
    this.changed();
  }
}

const boxes = new Map<number, RollCallBox>();

/** The one box of a person in this tab. */
export function rollCallBox(account: number): RollCallBox {
  let box = boxes.get(account);
  if (!box) {
    box = new RollCallBox(account);
    boxes.set(account, box);
  }
  return box;
}

/** What anybody's roll calls have left on this machine is removed: nobody is signed in. */
export function forgetRollCalls() {
  boxes.clear();
  for (const n of Object.keys(localStorage)) if (n.startsWith(prefix)) localStorage.removeItem(n);
}
