import { useCallback } from "react";
import { useRead } from "../api/client";

/** The minute HH:MM that a clock shows which showed `now` some milliseconds ago. */
export function minuteAfter(now: string, milliseconds: number): string {
  const [h = 0, m = 0] = now.slice(11, 16).split(":").map(Number);
  const minute = (h * 60 + m + Math.floor(Math.max(0, milliseconds) / 60_000)) % 1440;
  return `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
}

/** Tells the school's minute, also while the line is down. */
export function useMinute(): () => string {
  const { data, dataUpdatedAt } = useRead("/api/rail", {});
  return useCallback(() => (data ? minuteAfter(data.now, Date.now() - dataUpdatedAt) : ""), [data, dataUpdatedAt]);
}
