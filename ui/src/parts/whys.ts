import type { Schemas } from "../api/client";

type Concern = Schemas["ConcernView"];

/** The concerns that say something of their own: a rule of several others has nothing that they have not. */
export const telling = (list: Concern[]) => list.filter((c) => c.why !== c.figure);

/** Why, in one sentence. */
export const whys = (list: Concern[]) =>
  telling(list)
    .map((c) => c.why)
    .join("; ");
