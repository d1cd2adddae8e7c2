import type { LucideIcon } from "lucide-react"

type Props = { name: string; icon: LucideIcon; disabled?: boolean; onPress: () => void }

// IconButton is a small button that shows a sign alone.
export function IconButton({ name, icon: Icon, disabled, onPress }: Props) {
  return (
    <button type="button" aria-label={name} disabled={disabled} onClick={onPress} className="inline-flex rounded border border-line p-1 hover:border-quiet disabled:opacity-40">
      <Icon aria-hidden className="size-4" />
    </button>
  )
}
