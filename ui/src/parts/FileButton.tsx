import { Button, Upload } from "antd";
import type { ReactNode } from "react";

/** A button that asks for a file. What was chosen is handed on and not sent. */
export function FileButton({
  accept,
  chosen,
  children,
}: {
  accept: string; // types, separated by commas
  chosen: (file: File) => void;
  children: ReactNode;
}) {
  return (
    <Upload
      accept={accept}
      showUploadList={false}
      beforeUpload={(file) => {
        chosen(file);
        return false;
      }}
    >
      <Button size="small">{children}</Button>
    </Upload>
  );
}
