import type { ReactNode } from "react";

interface SectionProps {
  title: string;
  aside?: ReactNode;
  children: ReactNode;
}

/** A part of a sheet under a small heading. */
export function Section({ title, aside, children }: SectionProps) {
  return (
    <section aria-label={title} className="border-t border-rule py-2.5">
      <div className="mb-1.5 flex items-baseline justify-between gap-2">
        <h3 className="text-sm text-ink-2">{title}</h3>
        {aside}
      </div>
      {children}
    </section>
  );
}
