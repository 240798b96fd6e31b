import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  title: string;
  onClose: () => void;
  children: ReactNode;
  wide?: boolean;
}

export function Dialog({ title, onClose, children, wide }: Props) {
  return (
    <Radix.Root open onOpenChange={(open) => !open && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Radix.Content
          aria-describedby={undefined}
          // What does not fit is scrolled by the keyboard too.
          tabIndex={0}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[86vh] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-md border border-line bg-paper p-5 shadow-xl ${wide ? "w-[58rem]" : "w-[26rem]"}`}
        >
          <Radix.Title className="mb-3 text-lg font-semibold">{title}</Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
