/** How much of something is done. */
export function Bar({ label, done, of }: { label: string; done: number; of: number }) {
  return (
    <span
      role="progressbar"
      aria-label={label}
      aria-valuenow={done}
      aria-valuemin={0}
      aria-valuemax={of}
      className="block h-3 w-full bg-value"
    >
      <span className="block h-full bg-ink transition-[width]" style={{ width: `${of > 0 ? (100 * done) / of : 0}%` }} />
    </span>
  );
}
