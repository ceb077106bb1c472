import { type ReactNode, useCallback, useId } from "react";

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
  const scrolls = useScrolling();
  return (
    <section ref={scrolls} className={`panel ${className}`} aria-labelledby={id}>
      <header className={bare ? "bare" : undefined}>
        <h2 id={id}>{title}</h2>
        {extra !== undefined && <span className="extra">{extra}</span>}
      </header>
      {children}
    </section>
  );
}

/** Where what a panel holds is wider than the panel, it scrolls within it: by keys as well. */
function useScrolling() {
  return useCallback((panel: HTMLElement | null) => {
    if (!panel) return;
    const look = () => {
      if (panel.scrollWidth > panel.clientWidth) panel.tabIndex = 0;
      else panel.removeAttribute("tabindex");
    };
    const watch = new ResizeObserver(look);
    watch.observe(panel);
    for (const child of panel.children) watch.observe(child);
    return () => watch.disconnect();
  }, []);
}

/** What may be wider than its place: it scrolls there, by keys as well. */
export function Scrolls({ children }: { children: ReactNode }) {
  const scrolls = useScrolling();
  return (
    <div ref={scrolls} className="scrolls">
      {children}
    </div>
  );
}

/** What a page shows while its data is on the way, or did not come. */
export function Waiting({ error, inside = false }: { error?: Error | null; inside?: boolean /* a page */ }) {
  const words = (
    <p className="look-muted" role={error ? "alert" : "status"}>
      {error ? `This page could not be shown: ${error.message}` : "Fetching …"}
    </p>
  );
  return inside ? words : <main className="page">{words}</main>;
}
