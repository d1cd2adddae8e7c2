import type { ButtonHTMLAttributes } from "react"

type Props = ButtonHTMLAttributes<HTMLButtonElement> & { kind?: "main" | "plain" | "danger" }

const looks = {
  main: "bg-leaf text-on-leaf hover:bg-leaf-deep border-transparent",
  plain: "border-line bg-sheet text-ink hover:border-quiet",
  danger: "border-brick text-brick bg-sheet hover:bg-brick hover:text-sheet",
}

export function Button({ kind = "plain", className = "", ...rest }: Props) {
  return (
    <button
      type="button"
      className={`inline-flex items-center gap-2 rounded-md border px-3.5 py-1.5 disabled:opacity-60 ${looks[kind]} ${className}`}
      {...rest}
    />
  )
}
