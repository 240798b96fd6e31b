import { Tooltip } from "radix-ui";

/** The tip of a button, beside it. */
export default function Tip({ of }: { of: HTMLElement }) {
  const { left, top, width, height } = of.getBoundingClientRect();
  const { tip, hint } = of.dataset;
  return (
    <Tooltip.Provider>
      <Tooltip.Root open>
        <Tooltip.Trigger asChild>
          <span
            aria-hidden
            className="pointer-events-none fixed"
            style={{ left, top, width, height }}
            tabIndex={-1}
          />
        </Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content
            sideOffset={5}
            className="pointer-events-none z-50 max-w-64 rounded-[3px] bg-ink px-2 py-1 text-xs text-paper"
          >
            {tip}
            {hint && <kbd className="ml-2 rounded-sm border border-faint px-1 font-sans">{hint}</kbd>}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  );
}
