import { getNonce } from "get-nonce"
import { Check, ChevronDown } from "lucide-react"
import { Select } from "radix-ui"

type Props = { label: string; value: string; of: readonly (readonly [value: string, name: string])[]; onChange: (value: string) => void; className?: string; quiet?: boolean }

// nothing stands for an empty value, which the part does not take.
const nothing = "\u0000"

// Choose is one of a few, by name; quiet, its label is only heard.
export function Choose({ label, value, of, onChange, className = "", quiet }: Props) {
  return (
    <label className="block">
      <span className={quiet ? "sr-only" : "block"}>{label}</span>
      <Select.Root value={value || nothing} onValueChange={(v) => onChange(v === nothing ? "" : v)}>
        <Select.Trigger aria-label={label} className={`inline-flex min-h-10 items-center justify-between gap-2 rounded-md border border-quiet bg-sheet px-3 py-1.5 text-left ${quiet ? "" : "mt-1"} ${className}`}>
          <Select.Value />
          <Select.Icon>
            <ChevronDown aria-hidden className="size-4 text-quiet" />
          </Select.Icon>
        </Select.Trigger>
        <Select.Portal>
          <Select.Content position="popper" sideOffset={4} className="z-30 max-h-[min(24rem,70dvh)] min-w-(--radix-select-trigger-width) overflow-y-auto rounded-lg border border-line bg-sheet py-1 shadow-xl">
            <Select.Viewport nonce={getNonce()}>
              {of.map(([one, name]) => (
                <Select.Item key={one} value={one || nothing} className="flex cursor-default items-center gap-2 py-1.5 pr-4 pl-2 outline-none data-highlighted:bg-ochre-wash">
                  <span className="w-4">
                    <Select.ItemIndicator>
                      <Check aria-hidden className="size-4 text-leaf" />
                    </Select.ItemIndicator>
                  </span>
                  <Select.ItemText>{name}</Select.ItemText>
                </Select.Item>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
    </label>
  )
}
