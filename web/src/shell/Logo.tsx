/** Two lines that part, one of them stopping. */
export function Logo() {
  return (
    <svg width={46} height={28} viewBox="0 0 46 28" aria-hidden fill="none">
      <path d="M1 8H18L28 20H34" stroke="#fffdf8" strokeWidth={4} strokeLinejoin="round" />
      <path d="M1 15H14L20 22" stroke="#ffc928" strokeWidth={4} strokeLinejoin="round" />
      <circle cx={37} cy={20} r={5} stroke="#fffdf8" strokeWidth={3} fill="#17202b" />
    </svg>
  );
}
