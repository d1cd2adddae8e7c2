import { Progress } from "radix-ui"

// Bar shows how much of something is done.
export function Bar({ done, of, label }: { done: number; of: number; label: string }) {
  const share = of ? (100 * done) / of : 0
  return (
    <Progress.Root value={done} max={Math.max(of, 1)} aria-label={label} className="mt-1.5 h-1.5 max-w-md overflow-hidden rounded-full bg-line">
      <Progress.Indicator className="h-full rounded-full bg-leaf transition-[width]" style={{ width: `${share}%` }} />
    </Progress.Root>
  )
}
