import type { LucideIcon } from "lucide-react";
import { Tooltip } from "radix-ui";

interface IconButtonProps {
  label: string;
  icon: LucideIcon;
  onClick?: () => void;
  disabled?: boolean;
}

/** A button that is only an icon; its label is read aloud and shown on hover. */
export function IconButton({ label, icon: Icon, onClick, disabled }: IconButtonProps) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger
        className="grid size-8 place-items-center rounded-md text-ink-2 hover:bg-value hover:text-ink disabled:opacity-40"
        aria-label={label}
        onClick={onClick}
        disabled={disabled}
      >
        <Icon size={17} aria-hidden />
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content className="z-50 rounded bg-ink px-2 py-1 text-xs text-paper" sideOffset={4}>
          {label}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
