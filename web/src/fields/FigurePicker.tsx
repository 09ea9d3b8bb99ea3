import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { Popover } from "radix-ui";
import { type ReactNode, useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { useStudy } from "../study/session/store";

interface FigurePickerProps {
  label: string;
  trigger: ReactNode;
  className?: string;
  onPick: (found: Schemas["Found"]) => void;
}

/** A figure of the study, found by typing what it is called: "counter 9 in 10", "cost a day", "calls under 30 s". */
export function FigurePicker({ label, trigger, className, onPick }: FigurePickerProps) {
  const [isOpen, setOpen] = useState(false);
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger aria-label={label} className={className}>
        {trigger}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label={label}
          className="z-50 w-96 max-w-[92vw] rounded-md border border-rule bg-sheet shadow-xl"
        >
          <Finding
            onPick={(found) => {
              setOpen(false);
              onPick(found);
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Finding({ onPick }: Pick<FigurePickerProps, "onPick">) {
  const [text, setText] = useState("");
  const document = useStudy((state) => state.document);
  const found = useQuery({
    queryKey: ["figures of", document, text],
    gcTime: 0,
    placeholderData: (before) => before,
    queryFn: () => ask(api.POST("/api/figures/search", { body: { document: { ...document, scenarios: [], levers: [] }, text } })),
  });
  return (
    <Command label="Find a figure" shouldFilter={false}>
      <Command.Input
        autoFocus
        value={text}
        onValueChange={setText}
        placeholder="Wait at the counter, cost a day, under 30 s …"
        aria-label="Find a figure"
        className="w-full border-b border-rule bg-transparent px-3 py-2 outline-none"
      />
      <Command.List className="max-h-72 overflow-auto py-1">
        {found.data?.length === 0 && <p className="px-3 py-2 text-ink-2">No figure is called that.</p>}
        {found.data?.map((each) => (
          <Command.Item
            key={each.address}
            value={each.address}
            disabled={found.isPlaceholderData}
            onSelect={() => onPick(each)}
            className="flex cursor-pointer items-baseline gap-2 px-3 py-1.5 data-[selected=true]:bg-marker-light"
          >
            <span className="font-semibold">{each.title.name}</span>
            <span className="ml-auto whitespace-nowrap text-sm text-ink-2">{each.title.of}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  );
}

/** What figures of the study are called, by their addresses; of one that it has not, nothing. */
export function useTitles(addresses: string[]): Record<string, Schemas["Title"] | null> {
  const id = useStudy((state) => state.id);
  const document = useStudy((state) => state.document);
  const titles = useQuery({
    queryKey: ["titles", id, addresses, document.name],
    enabled: addresses.length > 0,
    placeholderData: (before) => before,
    queryFn: () => ask(api.POST("/api/figures/titles", { body: { document: { ...document, scenarios: [], levers: [] }, addresses } })),
  }).data;
  return titles ?? NO_TITLES;
}

const NO_TITLES = {};

/** What figures are called in one go, by their addresses. */
export function useFigureNames(addresses: string[]): (address: string) => string {
  const titles = useTitles(addresses);
  return (address) => {
    const title = titles[address];
    return title ? `${title.name} (${title.of})` : address;
  };
}
