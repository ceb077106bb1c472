import { Link, useLocation, useParams } from "react-router";
import { useRead } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Waiting } from "../../parts/Panel";
import { Sent } from "./Sent";
import { TakeRegister } from "./TakeRegister";

/** One register: taking it, or reading what was sent and correcting it. */
export function Register() {
  const params = useParams();
  const { at } = useAddress();
  const { search } = useLocation();
  const view = useRead("/api/registers/{class}/{slot}", { class: Number(params.class), slot: params.slot, at });
  if (view.error && !view.data) {
    return (
      <main className="page registers-place">
        <h1 className="visually-hidden">Register</h1>
        <p role="alert">{view.error.message}</p>
        <Link to={`/registers${search}`}>All registers</Link>
      </main>
    );
  }
  if (!view.data) return <Waiting />;
  const key = `${view.data.date} ${params.class} ${params.slot}`;
  return view.data.register.state === "sent" ? (
    <Sent key={key} view={view.data} />
  ) : (
    <TakeRegister key={key} view={view.data} />
  );
}
