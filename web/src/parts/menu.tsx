import { DropdownMenu } from "radix-ui"
import type { ReactNode } from "react"

// Menu is a few things to do, shown when its trigger is pressed.
export function Menu({ trigger, label, children }: { trigger: ReactNode; label?: string; children: ReactNode }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger aria-label={label} className="inline-flex items-center gap-1 rounded text-leaf underline underline-offset-4">
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={6} className="z-20 min-w-44 rounded-lg border border-line bg-sheet py-1 shadow-xl">
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

const look = "flex w-full cursor-default items-center gap-2 px-4 py-1.5 text-left outline-none data-highlighted:bg-ochre-wash"

// Item does something, or leads to an address.
export function Item({ children, href, download, onSelect }: { children: ReactNode; href?: string; download?: string; onSelect?: () => void }) {
  return (
    <DropdownMenu.Item asChild={href !== undefined} onSelect={onSelect} className={look}>
      {href === undefined ? children : <a href={href} download={download}>{children}</a>}
    </DropdownMenu.Item>
  )
}
