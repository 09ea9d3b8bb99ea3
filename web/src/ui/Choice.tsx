import { Check, ChevronDown } from "lucide-react";
import { Select } from "radix-ui";

interface ChoiceProps {
  label: string;
  /** The address of what is edited. */
  at?: string;
  value: string;
  options: { value: string; label: string; separated?: boolean }[];
  onChoose: (value: string) => void;
  quiet?: boolean;
}

/** A value inside a sentence that is picked from what exists. */
export function Choice({ label, at, value, options, onChoose, quiet }: ChoiceProps) {
  const look = quiet
    ? "text-sm text-ink-2 hover:text-ink"
    : "rounded-t border-b-2 border-ink bg-value px-1.5 py-px leading-6 font-semibold hover:bg-marker-light";
  return (
    <Select.Root value={value} onValueChange={onChoose}>
      <Select.Trigger aria-label={label} data-at={at} className={`inline-flex max-w-full items-baseline gap-1 text-left ${look}`}>
        <Select.Value placeholder="choose" />
        <ChevronDown size={13} aria-hidden className="shrink-0 self-center" />
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          sideOffset={4}
          className="z-50 max-h-80 min-w-40 overflow-auto rounded-md border border-rule bg-sheet py-1 shadow-lg"
        >
          <Select.Viewport>
            {options.map((option) => (
              <Select.Item
                key={option.value}
                value={option.value}
                className={`flex items-center gap-2 px-3 py-1.5 outline-none data-highlighted:bg-marker-light
                  ${option.separated ? "mt-1 border-t border-rule" : ""}`}
              >
                <Select.ItemText>{option.label}</Select.ItemText>
                <Select.ItemIndicator className="ml-auto">
                  <Check size={14} aria-hidden />
                </Select.ItemIndicator>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
