import { DropdownMenu } from "radix-ui";

/** A menu that opens where the pointer is; the keyboard goes along it, Escape closes it. */
export function MenuAt({
  at,
  items,
  label,
  onClose,
}: {
  at: { x: number; y: number };
  items: { label: string; act: () => unknown }[];
  label: string;
  onClose: () => void;
}) {
  return (
    <DropdownMenu.Root modal={false} open onOpenChange={(open) => !open && onClose()}>
      <DropdownMenu.Trigger asChild>
        <span className="fixed h-0 w-0" style={{ left: at.x, top: at.y }} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={document.querySelector("main")}>
        <DropdownMenu.Content
          aria-label={label}
          align="start"
          sideOffset={2}
          collisionPadding={8}
          className="z-50 min-w-44 rounded-md border border-line bg-sheet p-1 text-sm text-ink shadow-lg"
        >
          {items.map((item) => (
            <DropdownMenu.Item
              key={item.label}
              onSelect={() => void item.act()}
              className="cursor-default rounded-sm px-2 py-1.5 outline-none data-[highlighted]:bg-slate-wash"
            >
              {item.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
