import { useQueryClient } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { useCallback, useEffect, useState } from "react";
import { read, type Schemas } from "../api/client";

const warns = 5 * 60; // s before the end from which a person is asked
const asksAgain = 20; // s between two looks while the question stands: another window may have been used

const clock = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

/** Asks whether somebody is still there before a sign-in ends that nobody uses; any answer lets it go on. */
export function StillThere() {
  const queries = useQueryClient();
  const [left, setLeft] = useState<Schemas["SignInLeft"]>();
  const [seen, setSeen] = useState(false); // that it ends whatever is done
  const look = useCallback(async (): Promise<number> => {
    try {
      const now = await read("/api/session/left");
      setLeft(now);
      if (now.seconds === 0) void queries.invalidateQueries({ queryKey: ["/api/session"] });
      return Math.max(now.seconds - warns, asksAgain);
    } catch {
      void queries.invalidateQueries({ queryKey: ["/api/session"] });
      return asksAgain;
    }
  }, [queries]);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout>;
    let ended = false;
    const next = async () => {
      const seconds = await look();
      if (!ended) timer = setTimeout(() => void next(), seconds * 1000);
    };
    void next();
    return () => {
      ended = true;
      clearTimeout(timer);
    };
  }, [look]);
  const longest = left?.longest ?? false;
  const open = left !== undefined && left.seconds <= warns && !(longest && seen);
  const end = clock.format(Date.now() + (left?.seconds ?? 0) * 1000);
  const answer = () => (longest ? setSeen(true) : void look());
  if (!open) return null;
  return (
    <Modal
      open
      title={longest ? `Your sign-in ends at ${end}` : "Are you still there?"}
      onCancel={answer}
      footer={
        <Button type="primary" autoFocus onClick={answer}>
          {longest ? "OK" : "Stay signed in"}
        </Button>
      }
      width={420}
    >
      <p>
        {longest
          ? "It has lasted as long as a sign-in may. Sign in again when it suits you; what you have typed into registers is kept."
          : `Nobody has used this sign-in for a while. It ends at ${end}; what you have typed into registers is kept.`}
      </p>
    </Modal>
  );
}
