import type { ReactNode } from "react";
import { Link } from "react-router";
import { useAddress } from "./look-at";

/** Leads to what a policy says, as it holds on the date that is looked at. */
export function PolicyLink({ id, children }: { id: string; children: ReactNode }) {
  const { at } = useAddress();
  const query = new URLSearchParams({ policy: id, ...(at && { at, on: at.slice(0, "YYYY-MM-DD".length) }) });
  return <Link to={`/absence/policy?${query}`}>{children}</Link>;
}
