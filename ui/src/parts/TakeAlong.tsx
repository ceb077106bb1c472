import { Button } from "antd";

/** A list to print, or to save as a file. */
export function TakeAlong({ file, small = false }: { file: (format: "csv" | "xlsx") => string; small?: boolean }) {
  const size = small ? "small" : "middle";
  return (
    <>
      <Button size={size} type={small ? "default" : "primary"} onClick={() => window.print()}>
        Print
      </Button>
      <Button size={size} href={file("csv")}>
        CSV
      </Button>
      <Button size={size} href={file("xlsx")}>
        Spreadsheet
      </Button>
    </>
  );
}
