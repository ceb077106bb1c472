import { type ReactNode, useId } from "react";

/** A sheet with a heading. */
export function Panel({
  title,
  extra,
  children,
  className = "",
  bare = false,
}: {
  title: ReactNode;
  extra?: ReactNode;
  children: ReactNode;
  className?: string;
  bare?: boolean;
}) {
  const id = useId();
  return (
    <section className={`panel ${className}`} aria-labelledby={id}>
      <header className={bare ? "bare" : undefined}>
        <h2 id={id}>{title}</h2>
        {extra !== undefined && <span className="extra">{extra}</span>}
      </header>
      {children}
    </section>
  );
}

/** What a page shows while its data is on the way, or did not come. */
export function Waiting({ error, inside = false }: { error?: Error | null; inside?: boolean /* a page */ }) {
  const words = (
    <p className="muted" role={error ? "alert" : "status"}>
      {error ? `This page could not be shown: ${error.message}` : "Fetching …"}
    </p>
  );
  return inside ? words : <main className="page">{words}</main>;
}
