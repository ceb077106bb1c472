const drawings = {
  star: <path d="M7 1l1.8 3.9 4.2.5-3.1 2.9.8 4.2L7 10.4 3.3 12.5l.8-4.2L1 5.4l4.2-.5z" />,
  heart: (
    <path d="M7 12.5C2 9 1 6.7 1 4.6 1 2.8 2.4 1.5 4 1.5c1.3 0 2.4.7 3 1.9.6-1.2 1.7-1.9 3-1.9 1.6 0 3 1.3 3 3.1 0 2.1-1 4.4-6 7.9z" />
  ),
  flag: <path d="M2.5 1h1.4v12H2.5zM4.5 1.6h8l-2 2.9 2 2.9h-8z" />,
  clock: (
    <path
      d="M7 1a6 6 0 100 12A6 6 0 007 1zm0 1.6a4.4 4.4 0 110 8.8 4.4 4.4 0 010-8.8zM6.3 4h1.4v2.8l2 1.4-.8 1.1-2.6-1.8z"
      fillRule="evenodd"
    />
  ),
  drop: <path d="M7 .8c2.6 3.3 4.2 5.4 4.2 7.6a4.2 4.2 0 11-8.4 0C2.8 6.2 4.4 4.1 7 .8z" />,
  bell: (
    <path d="M7 1a1 1 0 011 1v.3c1.7.4 2.9 1.9 2.9 3.7v2.8l1.3 1.5v.6H1.8v-.6l1.3-1.5V6c0-1.8 1.2-3.3 2.9-3.7V2a1 1 0 011-1zM5.5 11.6h3a1.5 1.5 0 01-3 0z" />
  ),
  key: (
    <path
      d="M4.4 3.2a3.4 3.4 0 013.2 2.3H13v1.8h-1.2v1.9H10V7.3H7.6a3.4 3.4 0 11-3.2-4.1zm0 2a1.4 1.4 0 100 2.8 1.4 1.4 0 000-2.8z"
      fillRule="evenodd"
    />
  ),
  book: (
    <path d="M1 2.2c2-.6 4-.5 5.5.5v9.5C5 11.3 3 11.2 1 11.7zM7.5 2.7c1.5-1 3.5-1.1 5.5-.5v9.5c-2-.5-4-.4-5.5.5z" />
  ),
} as const;

export const icons = Object.keys(drawings) as (keyof typeof drawings)[];

const isIcon = (name: string): name is keyof typeof drawings => name in drawings;

/** A small drawing beside a name; what it means is said beside it or by its title. Nothing where the name is none. */
export function Icon({ name }: { name: string }) {
  if (!isIcon(name)) return null;
  return (
    <svg viewBox="0 0 14 14" width="13" height="13" fill="currentColor" aria-hidden="true" className="icon">
      {drawings[name]}
    </svg>
  );
}
