import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

interface ModalProps {
  open: boolean;
  onClose?: () => void;
  title: string;
  wide?: boolean;
  children: ReactNode;
}

/** A dialog over everything else. */
export function Modal({ open, onClose, title, wide, children }: ModalProps) {
  return (
    <Dialog.Root open={open} onOpenChange={(now) => !now && onClose?.()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#17202b]/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed left-1/2 top-24 z-50 max-h-[80vh] ${wide ? "w-[52rem]" : "w-[34rem]"} max-w-[92vw] -translate-x-1/2
            overflow-auto rounded-lg border border-rule bg-sheet p-6 text-ink shadow-xl`}
        >
          <Dialog.Title className="mb-3 text-xl font-bold">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
