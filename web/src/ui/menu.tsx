import { Check } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

export function Menu({ trigger, children }: { trigger: ReactNode; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          sideOffset={4}
          align="end"
          className="z-50 min-w-56 rounded-md border border-line bg-sheet p-1 text-sm text-ink shadow-lg"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Something that is on or off; the menu stays open. */
export function MenuCheck({
  on,
  hint,
  onSet,
  children,
}: {
  on: boolean;
  hint?: string;
  onSet: () => void;
  children: ReactNode;
}) {
  return (
    <DropdownMenu.CheckboxItem
      checked={on}
      onSelect={(e) => e.preventDefault()}
      onCheckedChange={onSet}
      className="flex cursor-default items-center gap-2 rounded-sm px-2 py-1 outline-none data-[highlighted]:bg-slate-wash"
    >
      <span
        className={`grid h-4 w-4 place-items-center rounded-sm border ${on ? "border-slate bg-slate text-sheet" : "border-line"}`}
      >
        {on && <Check size={12} />}
      </span>
      <span className="flex-1">{children}</span>
      {hint && <kbd className="rounded-sm border border-line px-1 font-sans text-xs text-faint">{hint}</kbd>}
    </DropdownMenu.CheckboxItem>
  );
}

export function MenuItem({
  onSelect,
  children,
  note,
}: {
  onSelect: () => void;
  children: ReactNode;
  note?: string;
}) {
  return (
    <DropdownMenu.Item
      onSelect={onSelect}
      className="cursor-default rounded-sm px-2 py-1.5 outline-none data-[highlighted]:bg-slate-wash"
    >
      {children}
      {note && <span className="block text-xs text-faint">{note}</span>}
    </DropdownMenu.Item>
  );
}
