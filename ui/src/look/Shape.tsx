/** The states, each with a shape, a colour and a word, the same everywhere. */
export const stateWords = {
  in: "in",
  late: "in, late",
  left: "left",
  elsewhere: "elsewhere",
  explained: "explained",
  unexcused: "unexcused",
  unaccounted: "unaccounted for",
  "not-yet-known": "not yet known",
  "not-due": "not due",
} as const;

export type State = keyof typeof stateWords;

export function isState(text: string): text is State {
  return text in stateWords;
}

function drawing(state: State) {
  switch (state) {
    case "in":
      return <rect x="1" y="1" width="12" height="12" rx="1" fill="var(--in)" />;
    case "late":
      return (
        <>
          <rect x="1.75" y="1.75" width="10.5" height="10.5" fill="none" stroke="var(--late)" strokeWidth="1.5" />
          <rect x="7" y="1" width="6" height="12" fill="var(--late)" />
        </>
      );
    case "left":
      return <path d="M2 1.5 13 7 2 12.5Z" fill="var(--left)" />;
    case "elsewhere":
      return <path d="M7 0.5 13.5 7 7 13.5 0.5 7Z" fill="var(--elsewhere)" />;
    case "explained":
      return (
        <>
          <rect x="1.75" y="1.75" width="10.5" height="10.5" fill="none" stroke="var(--explained)" strokeWidth="1.5" />
          <rect x="2" y="6" width="10" height="2" fill="var(--explained)" />
        </>
      );
    case "unexcused":
      return (
        <>
          <rect x="1.75" y="1.75" width="10.5" height="10.5" fill="none" stroke="var(--unexcused)" strokeWidth="1.5" />
          <path d="M3 3 11 11M11 3 3 11" stroke="var(--unexcused)" strokeWidth="1.8" />
        </>
      );
    case "unaccounted":
      return <circle cx="7" cy="7" r="5" fill="none" stroke="var(--unaccounted)" strokeWidth="3" />;
    case "not-yet-known":
      return (
        <rect
          x="1.75"
          y="1.75"
          width="10.5"
          height="10.5"
          fill="none"
          stroke="var(--grey)"
          strokeWidth="1.5"
          strokeDasharray="3 2"
        />
      );
    case "not-due":
      return null;
  }
}

/** A state's shape; its word is read out, or stands beside it. */
export function Shape({ state, silent = false, size = 13 }: { state: string; silent?: boolean; size?: number }) {
  if (!isState(state)) return null;
  const label = silent ? { "aria-hidden": true } : { role: "img", "aria-label": stateWords[state] };
  return (
    // biome-ignore lint/a11y/noSvgWithoutTitle: named by its label, or silent beside its word
    <svg className="shape" viewBox="0 0 14 14" style={{ width: size, height: size }} {...label}>
      {drawing(state)}
    </svg>
  );
}
