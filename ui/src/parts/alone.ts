import { useNavigate } from "react-router";
import { useAddress } from "./look-at";

/** Pages that stand alone: they are opened whole, beside the frame of the others. */
const alone = ["/check-in", "/station", "/roll-call", "/pass", "/password", "/reader"] as const;
export type Alone = (typeof alone)[number];

const standsAlone = (path: string) =>
  alone.some((a) => path === a || path.startsWith(`${a}/`) || path.startsWith(`${a}?`));

/** Goes to any page of the program by its address; the day looked at and the student in hand stay. */
export function useGoTo() {
  const navigate = useNavigate();
  const { at, student } = useAddress();
  return (path: string) => {
    if (standsAlone(path)) {
      window.location.assign(path);
      return;
    }
    const [pathname = "/", search] = path.split("?", 2);
    const kept = new URLSearchParams({ ...(at && { at }), ...(student && { student }) });
    for (const [name, value] of new URLSearchParams(search)) kept.set(name, value);
    navigate({ pathname, search: kept.toString() });
  };
}
