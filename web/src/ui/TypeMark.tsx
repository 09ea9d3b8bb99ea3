/** The short coloured bar that stands for a case type's line. */
export function TypeMark({ colour }: { colour: string }) {
  return <span aria-hidden className="mr-1.5 inline-block h-1.5 w-5 shrink-0 rounded-sm align-middle" style={{ background: colour }} />;
}
