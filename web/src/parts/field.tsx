import type { InputHTMLAttributes } from "react"

export const field = "min-h-10 rounded-md border border-quiet bg-sheet px-3 py-1.5"

type Props = InputHTMLAttributes<HTMLInputElement> & { label: string; hint?: string }

// Field is an input with its label, and what to know before filling it in.
export function Field({ label, hint, className = "", ...rest }: Props) {
  return (
    <label className="block">
      {label}
      {hint && <span className="block text-sm text-quiet">{hint}</span>}
      <input className={`${field} mt-1 block w-full ${className}`} {...rest} />
    </label>
  )
}
