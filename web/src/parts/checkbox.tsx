import { Check, Minus } from "lucide-react"
import { Checkbox as Radix } from "radix-ui"

type Props = { label: string; checked: boolean | "indeterminate"; onChange: (checked: boolean) => void }

// Checkbox is one whose label is only heard.
export function Checkbox({ label, checked, onChange }: Props) {
  return (
    <Radix.Root aria-label={label} checked={checked} onCheckedChange={(on) => onChange(on === true)} className="flex size-5 items-center justify-center rounded border border-quiet bg-sheet data-[state=checked]:border-leaf data-[state=checked]:bg-leaf">
      <Radix.Indicator>{checked === "indeterminate" ? <Minus aria-hidden className="size-3.5" /> : <Check aria-hidden className="size-3.5 text-on-leaf" />}</Radix.Indicator>
    </Radix.Root>
  )
}

// Ticked is one whose label stands beside it.
export function Ticked(props: Props) {
  return (
    <span className="flex items-center gap-2">
      <Checkbox {...props} />
      <span aria-hidden>{props.label}</span>
    </span>
  )
}
