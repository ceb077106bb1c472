import { type UseQueryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { components, paths } from "./schema";

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
  const p = (problem ?? {}) as Problem;
  const more = (p.errors ?? []).map((e) => [e.location, e.message].filter(Boolean).join(": ")).join("; ");
  return new Refusal(status, [p.detail ?? p.title ?? "the server did not answer", more].filter(Boolean).join(" · "));
}

/** A key that makes a repeat of a write do nothing twice. It needs no secure origin. */
export function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}

/** Paths that are read, with what they answer. */
type Reads = {
  [P in keyof paths]: paths[P] extends { get: { responses: { 200: { content: { "application/json": infer A } } } } }
    ? A
    : never;
};

export async function read<P extends keyof Reads & string>(
  path: P,
  params: Record<string, string | number | undefined> = {},
): Promise<Reads[P]> {
  let url: string = path;
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(params)) {
    if (value === undefined || value === "") continue;
    if (url.includes(`{${name}}`)) url = url.replace(`{${name}}`, encodeURIComponent(String(value)));
    else query.set(name, String(value));
  }
  const response = await fetch(query.size ? `${url}?${query}` : url, { headers: { Accept: "application/json" } });
  const body: unknown = await response.json().catch(() => undefined);
  if (!response.ok) throw refusal(response.status, body);
  return body as Reads[P];
}

/** A page's data, kept fresh by the live events. */
export function useRead<P extends keyof Reads & string>(
  path: P,
  params: Record<string, string | number | undefined> = {},
  options: Partial<UseQueryOptions<Reads[P], Refusal>> = {},
) {
  return useQuery<Reads[P], Refusal>({ queryKey: [path, params], queryFn: () => read(path, params), ...options });
}

export async function write<T>(path: string, body: unknown, key = newKey()): Promise<T> {
  const response = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json", Accept: "application/json", "Idempotency-Key": key },
    body: JSON.stringify(body ?? {}),
    signal: AbortSignal.timeout(20_000),
  });
  const answer: unknown = response.status === 204 ? undefined : await response.json().catch(() => undefined);
  if (!response.ok) throw refusal(response.status, answer);
  return answer as T;
}

type Write = { path: string; body?: unknown };

/** A write that the pages follow at once. */
export function useWrite(tell: { done?: (receipt: Schemas["Receipt"]) => void; failed?: (error: Error) => void } = {}) {
  const queries = useQueryClient();
  return useMutation<Schemas["Receipt"], Error, Write>({
    mutationFn: ({ path, body }) => write(path, body),
    onSuccess: async (receipt) => {
      tell.done?.(receipt);
      await queries.invalidateQueries();
    },
    onError: (error) => {
      tell.failed?.(error); // not awaited: a message is a promise until it closes, and the next try must not wait for it
    },
  });
}

/** A page's way to write, as it is handed to the page's parts. */
export type Writing = ReturnType<typeof useWrite>;
