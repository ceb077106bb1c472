import { Button, Input, type InputRef } from "antd";
import { useRef, useState } from "react";

/** The link to post for who takes part from somewhere else; it can be sent before the lesson. */
export function RemoteLink({ path }: { path: string }) {
  const [copied, setCopied] = useState(false);
  const field = useRef<InputRef>(null);
  const address = window.location.origin + path;
  const copy = async () => {
    field.current?.select();
    try {
      await navigator.clipboard.writeText(address);
      setCopied(true);
    } catch {
      setCopied(false); // a browser that does not let pages write there: it is selected, to be copied by key
    }
  };
  return (
    <span className="remote">
      <Input ref={field} size="small" readOnly aria-label="Link for a remote lesson" value={address} />
      <Button size="small" onClick={() => void copy()}>
        {copied ? "Copied" : "Copy"}
      </Button>
    </span>
  );
}
