import { useId } from "react";

interface TypedProps {
  label: string;
  value: string;
  look?: string;
  onType: (text: string) => void;
}

/** A text that is read as it will be printed, and typed over in place; it is as high as it has lines. */
export function Typed({ label, value, look = "leading-6", onType }: TypedProps) {
  const id = useId();
  const box = `w-full px-2 py-0.5 [overflow-wrap:anywhere] whitespace-pre-wrap ${look}`;
  return (
    <div className="relative min-w-0 flex-1">
      <div aria-hidden className={`invisible min-h-[1lh] print:visible ${box}`}>
        {`${value}\u200b`}
      </div>
      <textarea
        id={id}
        aria-label={label}
        value={value}
        rows={1}
        className={`absolute inset-0 resize-none overflow-hidden rounded border border-transparent bg-transparent
          hover:bg-value/50 focus:bg-marker-light print:hidden ${box}`}
        onChange={({ target }) => onType(target.value)}
      />
    </div>
  );
}
