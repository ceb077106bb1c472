import { type UseQueryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import createClient from "openapi-fetch";
import { lookNow, whileWriting } from "./again";
import type { components, paths } from "./schema";
import { covers } from "./topics";

export type Schemas = components["schemas"];

/** A refusal by the server, in words for the person. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

type Problem = { detail?: string; title?: string; errors?: { message?: string; location?: string }[] | null };

function refusal(status: number, problem: unknown): Refusal {
  const p = (typeof problem === "object" && problem ? problem : {}) as Problem;
  const more = (p.errors ?? []).map((e) => [e.location, e.message].filter(Boolean).join(": ")).join("; ");
  return new Refusal(status, [p.detail ?? p.title ?? "the server did not answer", more].filter(Boolean).join(" · "));
}

/** A key that makes a repeat of a write do nothing twice. It needs no secure origin. */
export function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}

type Json<T> = T extends { content: { "application/json": infer A } } ? A : undefined;
type Answer<Operation> = Operation extends { responses: infer R }
  ? Json<R extends { 200: infer Ok } ? Ok : R extends { 204: infer Ok } ? Ok : never>
  : never;
type None = Record<never, never>;
type Part<Operation, Name extends "path" | "query"> = Operation extends { parameters: { [N in Name]?: infer P } }
  ? [NonNullable<P>] extends [never]
    ? None
    : NonNullable<P>
  : None;

type Gets = { [P in keyof paths as paths[P] extends { get: unknown } ? P : never]: paths[P]["get"] };
type Posts = { [P in keyof paths as paths[P] extends { post: unknown } ? P : never]: paths[P]["post"] };

/** A path that is read, and what the contract says of it. */
export type ReadPath = { [P in keyof Gets]: Answer<Gets[P]> extends undefined ? never : P }[keyof Gets];
export type Read<P extends ReadPath> = Answer<Gets[P]>;
/** What a path is asked with: what stands in the path, and the query. Nothing is sent of what is undefined or empty. */
type Asked<P extends ReadPath> = { [N in keyof Part<Gets[P], "path">]: Part<Gets[P], "path">[N] | undefined } & {
  [N in keyof Part<Gets[P], "query">]?: Part<Gets[P], "query">[N] | undefined;
};
/** The params of a read may be left out where all of them may. */
type Given<P extends ReadPath> = None extends Asked<P> ? [params?: Asked<P>] : [params: Asked<P>];
type Reading<P extends ReadPath> = Partial<UseQueryOptions<Read<P>, Refusal>>;

/** A path that is written to, and what the contract says of it. */
export type WritePath = keyof Posts;
export type Written<P extends WritePath> = Answer<Posts[P]>;
type Body<P extends WritePath> = Posts[P] extends { requestBody: infer B } ? Json<B> : never;
/** One write as the contract describes it. A body that holds nothing may be left out. */
export type WriteTo<P extends WritePath> = { path: P } & (None extends Part<Posts[P], "path">
  ? { params?: None }
  : { params: Part<Posts[P], "path"> }) &
  ([Body<P>] extends [never] ? unknown : None extends Body<P> ? { body?: Body<P> } : { body: Body<P> });

const patience = 20_000; // ms until a write counts as lost

const server = createClient<paths>({
  querySerializer: { array: { style: "form", explode: false } },
  baseUrl: globalThis.location.origin,
  fetch: (request) => globalThis.fetch(request),
});

type Outcome = { data?: unknown; error?: unknown; response: Response };

let touched = Date.now();
for (const event of ["keydown", "pointerdown", "wheel"])
  globalThis.addEventListener(
    event,
    () => {
      touched = Date.now();
    },
    { capture: true, passive: true },
  );

/** Tells the server of a page that asks by itself, since nobody has touched anything for a minute. */
const untouched = (): Record<string, string> => (Date.now() - touched > 60_000 ? { "Meldung-Untouched": "1" } : {});

/** Answers that were had, with the tags by which the server knows whether they still hold. */
const had = new Map<string, { tag: string; data: unknown }>();
const mostHad = 60;

/** One read; where the server says that nothing has changed, what was had. */
async function look<A>(path: string, init: { headers: Record<string, string> }, key: readonly unknown[]): Promise<A> {
  const name = JSON.stringify(key);
  const before = had.get(name);
  const headers = { ...init.headers, ...(before && { "If-None-Match": before.tag }) };
  const { data, error, response } = (await server.request(
    "get",
    path as never,
    { ...init, headers } as never,
  )) as Outcome;
  const entry = Number(response.headers.get("Covers") ?? Number.NaN);
  const known = response.status === 304 ? before : undefined;
  if (!response.ok && !known) throw refusal(response.status, error);
  if (Number.isFinite(entry)) covers(key, entry);
  if (known) return known.data as A;
  const tag = response.headers.get("ETag");
  had.delete(name);
  if (tag) {
    if (had.size >= mostHad) had.delete(had.keys().next().value ?? "");
    had.set(name, { tag, data });
  }
  return data as A;
}

/** One write. The types above say what may be asked; the library's own can't follow a path that is still open. */
async function ask<A>(path: string, init: object): Promise<A> {
  const { data, error, response } = (await server.request("post", path as never, init as never)) as Outcome;
  if (!response.ok) throw refusal(response.status, error);
  return data as A;
}

export function read<P extends ReadPath>(path: P, ...[params]: Given<P>): Promise<Read<P>> {
  const given = Object.entries(params ?? {}).filter(([, value]) => value !== undefined && value !== "");
  const inPath = ([name]: [string, unknown]) => path.includes(`{${name}}`);
  const asked = {
    headers: untouched(),
    params: {
      path: Object.fromEntries(given.filter(inPath)),
      query: Object.fromEntries(given.filter((one) => !inPath(one))),
    },
  };
  return look(path, asked, [path, params ?? {}]);
}

/** Whether two askings differ by no more than the minute of one day; now is the minute that it is. */
function differByMinute(a: object, b: object, now = ""): boolean {
  const dayAnd = ({ at = now, ...rest }: { at?: string }) => JSON.stringify([at.slice(0, "YYYY-MM-DD".length), rest]);
  return dayAnd(a) === dayAnd(b);
}

/**
 * A page's data, kept fresh by the live events. While another minute of the day is on its way, what was
 * shown stays, so that nothing jumps; what was asked for otherwise never shows under the new name.
 */
export function useRead<P extends ReadPath>(
  path: P,
  ...[params, options]: None extends Asked<P>
    ? [params?: Asked<P>, options?: Reading<P>]
    : [params: Asked<P>, options?: Reading<P>]
) {
  const queries = useQueryClient();
  const now = () =>
    queries.getQueriesData<Schemas["RailView"]>({ queryKey: ["/api/rail"] }).find(([, rail]) => rail)?.[1]?.now;
  return useQuery<Read<P>, Refusal>({
    queryKey: [path, params ?? {}],
    queryFn: () => read(path, ...([params] as Given<P>)),
    placeholderData: (shown, before) =>
      before && differByMinute(before.queryKey[1] as object, params ?? {}, now()) ? shown : undefined,
    ...options,
  });
}

export function write<P extends WritePath>(one: WriteTo<P>, key = newKey(), until?: AbortSignal): Promise<Written<P>> {
  return ask(one.path, {
    params: { path: one.params, header: { "Idempotency-Key": key } },
    body: ("body" in one && one.body) || {},
    signal: until ?? AbortSignal.timeout(patience), // what shows how far it is ends when whoever waits ends it
  });
}

/** A file that is made of what is asked for, with the name that the server gives it. */
async function made(path: "/api/papers/file", body: object): Promise<{ name: string; content: Blob }> {
  const response = await globalThis.fetch(
    new Request(new URL(path, globalThis.location.origin), {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(body),
    }),
  );
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined));
  const said = response.headers.get("Content-Disposition") ?? "";
  return { name: /filename="?([^";]+)/.exec(said)?.[1] ?? "list", content: await response.blob() };
}

/** Makes a file: a PDF is opened to be printed, others are saved as the browser saves what it loads. */
export async function takeAlong(path: "/api/papers/file", body: object, format: "pdf" | "csv" | "xlsx") {
  const file = await made(path, body);
  const url = URL.createObjectURL(file.content);
  if (format === "pdf") window.open(url, "_blank");
  else Object.assign(document.createElement("a"), { href: url, download: file.name }).click();
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}

/** Every write that is answered with a receipt. */
export type Write = { [P in WritePath]: Written<P> extends Schemas["Receipt"] ? WriteTo<P> : never }[WritePath];

/** A write that the pages follow at once. */
export function useWrite(tell: { done?: (receipt: Schemas["Receipt"]) => void; failed?: (error: Error) => void } = {}) {
  const queries = useQueryClient();
  return useMutation<Schemas["Receipt"], Error, Write>({
    mutationFn: (one) =>
      whileWriting(queries, async () => {
        const receipt = (await write(one as WriteTo<WritePath>)) as Schemas["Receipt"];
        tell.done?.(receipt);
        await lookNow(queries);
        return receipt;
      }),
    onError: (error) => {
      tell.failed?.(error); // not awaited: a message is a promise until it closes, and the next try must not wait for it
    },
  });
}

/** A page's way to write, as it is handed to the page's parts. */
export type Writing = ReturnType<typeof useWrite>;
