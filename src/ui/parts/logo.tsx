/** Two shots that reach into each other. */
export function Logo() {
  return (
    <svg viewBox="0 0 32 24" className="h-[18px] w-6" aria-hidden>
      <path d="M2 3h17v5H8v8h11v5H2z" className="fill-leaving" />
      <path d="M30 3H13v5h11v8H13v5h17z" className="fill-entering" />
      <path d="M12.5 8.5h7v7h-7z" className="fill-ink" />
    </svg>
  );
}
