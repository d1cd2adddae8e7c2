import { useSyncExternalStore } from "react"

const wide = window.matchMedia("(min-width: 64rem)")

const subscribe = (listener: () => void) => {
  wide.addEventListener("change", listener)
  return () => wide.removeEventListener("change", listener)
}

// useWide tells whether there is room for two columns.
export const useWide = () => useSyncExternalStore(subscribe, () => wide.matches)
