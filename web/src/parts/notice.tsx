import { CircleAlert } from "lucide-react"
import type { ReactNode } from "react"

// Failure says what went wrong, in the service's words.
export function Failure({ error }: { error: unknown }) {
  return (
    <p role="alert" className="flex items-start gap-2 rounded-md border border-brick px-3 py-2 text-brick">
      <CircleAlert aria-hidden className="mt-0.5 size-5 shrink-0" />
      <span>{error instanceof Error ? error.message : String(error)}</span>
    </p>
  )
}

// Empty says what to do where there is nothing yet.
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="rounded-lg border border-dashed border-line px-8 py-12 text-center">
      <p className="font-serif text-xl">{title}</p>
      <div className="mx-auto mt-2 max-w-prose text-quiet">{children}</div>
    </div>
  )
}

export function Waiting({ what }: { what: string }) {
  return (
    <p role="status" className="text-quiet">
      {what}
    </p>
  )
}
