import { Button } from "antd";
import { useRouteError } from "react-router";

/** What stands in place of a page that broke. */
export function Broken() {
  const error = useRouteError();
  return (
    <main className="page">
      <h1>This page broke</h1>
      <p role="alert">{error instanceof Error ? error.message : "The reason is not known."}</p>
      <p>What was sent is saved; a register that was not sent is kept on this machine.</p>
      <Button type="primary" onClick={() => window.location.reload()}>
        Load it again
      </Button>
    </main>
  );
}
