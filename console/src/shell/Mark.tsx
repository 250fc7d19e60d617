/** The mark: a drafting pin. */
export function Mark() {
  return (
    <svg viewBox="0 0 32 32" className="size-7" aria-hidden>
      <path d="M16 30 14.6 17h2.8z" className="fill-brass" />
      <ellipse cx="16" cy="10" rx="11" ry="8" className="fill-ink" />
      <ellipse cx="16" cy="8.4" rx="11" ry="6.4" fill="#b48a34" />
      <ellipse cx="16" cy="8" rx="5" ry="2.8" className="fill-sheet" />
    </svg>
  );
}
