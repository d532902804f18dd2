/** Each judgement has its own shape as well as its colour: disc and tick, triangle, square and cross. */
export function Mark({ mark, size = 26 }: { mark: string; size?: number }) {
  const word = mark === "fault" ? "Fault" : mark === "warning" ? "Warning" : "Good";
  return (
    <svg role="img" aria-label={word} width={size} height={size} viewBox="0 0 26 26" className="shrink-0">
      {mark === "good" && (
        <>
          <circle cx="13" cy="13" r="12" fill="var(--color-good)" />
          <path d="M7 13.5l4 4 8-8.5" fill="none" stroke="var(--color-card)" strokeWidth="3" />
        </>
      )}
      {mark === "warning" && (
        <>
          <path d="M13 1 25.5 24H.5Z" fill="var(--color-warning)" />
          <path d="M13 8.5v8M13 18.5v3" stroke="var(--color-card)" strokeWidth="3" />
        </>
      )}
      {mark === "fault" && (
        <>
          <rect x="1" y="1" width="24" height="24" fill="var(--color-fault)" />
          <path d="M7.5 7.5l11 11m0-11l-11 11" stroke="var(--color-card)" strokeWidth="3.2" />
        </>
      )}
    </svg>
  );
}
