import { DropdownMenu, Popover } from "radix-ui";
import type { ReactNode } from "react";

export function Menu({
  trigger,
  children,
  opened,
  onClose,
}: {
  trigger: ReactNode;
  children: ReactNode;
  /** Open from the first. */
  opened: boolean;
  onClose?: () => void;
}) {
  return (
    <DropdownMenu.Root modal={false} defaultOpen={opened} onOpenChange={(open) => open || onClose?.()}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal container={document.querySelector("main")}>
        <DropdownMenu.Content
          sideOffset={4}
          align="end"
          collisionPadding={8}
          className="z-50 max-h-(--radix-popper-available-height) max-w-[calc(100vw-16px)] min-w-56 overflow-y-auto rounded-md border border-line bg-sheet p-1 text-sm text-ink shadow-lg"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Settings that stay open under a button. */
export function Popped({
  trigger,
  label,
  children,
  opened,
}: {
  trigger: ReactNode;
  label: string;
  children: ReactNode;
  opened: boolean;
}) {
  return (
    <Popover.Root defaultOpen={opened}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          align="end"
          collisionPadding={8}
          aria-label={label}
          className="z-50 max-h-(--radix-popper-available-height) max-w-[calc(100vw-16px)] min-w-56 overflow-y-auto rounded-md border border-line bg-sheet p-1 text-sm text-ink shadow-lg"
          // The desk's keys are not for what is set here; Tab and Escape are.
          onKeyDown={(e) => e.key !== "Escape" && e.stopPropagation()}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

export function MenuItem({
  onSelect,
  children,
  note,
  onPoint,
}: {
  onSelect: () => void;
  children: ReactNode;
  note?: string;
  onPoint?: () => void;
}) {
  return (
    <DropdownMenu.Item
      onSelect={onSelect}
      onFocus={onPoint}
      className="cursor-default rounded-sm px-2 py-1.5 outline-none data-[highlighted]:bg-slate-wash"
    >
      {children}
      {note && <span className="block text-xs text-faint">{note}</span>}
    </DropdownMenu.Item>
  );
}
