import { Button, Upload } from "antd";
import type { ReactNode } from "react";

/**
 * A button that asks for files, onto which they can be dropped as well. What was chosen is handed on, and sent only
 * by whoever wants it.
 */
export function FileField({
  accept,
  chosen,
  children,
  several = false,
  disabled,
}: {
  accept: string; // types, separated by commas
  chosen: (files: File[]) => void;
  children: ReactNode;
  several?: boolean;
  disabled?: boolean;
}) {
  return (
    <Upload
      accept={accept}
      multiple={several}
      disabled={disabled}
      showUploadList={false}
      beforeUpload={(file, list) => {
        if (file === list[0]) chosen(list);
        return false;
      }}
    >
      <Button size="small" disabled={disabled}>
        {children}
      </Button>
    </Upload>
  );
}
