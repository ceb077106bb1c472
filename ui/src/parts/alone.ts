import { useNavigate } from "react-router";

/** Pages that stand alone: they are opened whole, beside the frame of the others. */
const alone = /^\/(check-in|station|roll-call|pass|password|reader)(\/|\?|$)/;

/** Goes to any page of the program by its address. */
export function useGoTo() {
  const navigate = useNavigate();
  return (path: string) => {
    if (alone.test(path)) window.location.assign(path);
    else navigate(path);
  };
}
