import { useSyncExternalStore } from "react";
import { useRead } from "../api/client";

// Which sections of the school this tab looks at, kept over a reload. None is all of them.
const name = "sections looked at";
const listeners = new Set<() => void>();
let looked: number[] | undefined = kept();

function kept(): number[] | undefined {
  const ids = (sessionStorage.getItem(name) ?? "").split(",").map(Number).filter(Boolean);
  return ids.length > 0 ? ids : undefined;
}

/** Looks at some sections from now on, on every page of this tab; at all where none is given. */
export function lookAtSections(ids: number[]) {
  looked = ids.length > 0 ? ids : undefined;
  if (looked) sessionStorage.setItem(name, looked.join(","));
  else sessionStorage.removeItem(name);
  for (const tell of listeners) tell();
}

function follow(tell: () => void) {
  listeners.add(tell);
  return () => listeners.delete(tell);
}

/** The sections that are looked at; undefined for all of them. */
export function useScope(): number[] | undefined {
  return useSyncExternalStore(follow, () => looked);
}

/** The sections looked at, in words; empty where the school has one. */
export function useCovered(): string {
  const looked = useScope();
  const rail = useRead("/api/rail", { section: looked });
  if (!rail.data?.sections.length) return "";
  return looked ? rail.data.strips.map((s) => s.name).join(", ") : all;
}

const all = "all sections";

/** Which sections a sentence that says no covers: " in Upper School"; empty where the school has one. */
export function covering(scope: string): string {
  return scope ? ` in ${scope === all ? "any section" : scope}` : "";
}

/** Which sections a heading or a sentence about everyone covers. */
export function throughout(scope: string): string {
  return scope ? ` in ${scope}` : "";
}

/**
 * What choosing a section does to those looked at: the first one chosen is looked at alone, others come
 * beside it, and one that is chosen again goes; none, or every one, is all.
 */
export function chosen(looked: number[] | undefined, id: number, all: number[]): number[] {
  if (!looked) return [id];
  const next = looked.includes(id)
    ? looked.filter((one) => one !== id)
    : all.filter((one) => one === id || looked.includes(one));
  return next.length === all.length ? [] : next;
}
