import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

interface MenuProps {
  trigger: ReactNode;
  label?: string;
  className?: string;
  items: { label: string; onChoose: () => void; hint?: string; wrong?: boolean; separated?: boolean }[];
}

/** A button that opens a short list of things to do. */
export function Menu({ trigger, label, className, items }: MenuProps) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={label} className={className ?? LINK_BUTTON}>
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className="z-50 min-w-44 rounded-md border border-rule bg-sheet py-1 shadow-lg">
          {items.map((item) => (
            <DropdownMenu.Item
              key={item.label}
              onSelect={item.onChoose}
              className={`flex items-baseline gap-6 px-3 py-1.5 outline-none data-highlighted:bg-marker-light
                ${item.wrong ? "text-wrong" : ""} ${item.separated ? "mt-1 border-t border-rule" : ""}`}
            >
              {item.label}
              {item.hint && <span className="ml-auto text-xs text-ink-3">{item.hint}</span>}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export const LINK_BUTTON =
  "inline-flex items-center gap-1 border-b-2 border-ink pb-0.5 text-sm font-semibold hover:border-marker disabled:opacity-40";
export const MAIN_BUTTON = "rounded-md bg-marker px-4 py-2 font-semibold text-[#17202b] hover:brightness-105 disabled:opacity-50";
export const QUIET_BUTTON = "rounded-md border border-rule px-3 py-1.5 font-semibold hover:bg-value disabled:opacity-40";
