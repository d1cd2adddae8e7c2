// A Told is said for a while at the window's edge, with a way to take back what was done.
export type Told = { id: number; text: string; undo?: () => void }

let told: Told[] = []
const listeners = new Set<() => void>()

function set(next: Told[]) {
  told = next
  listeners.forEach((l) => l())
}

// tell says what was done.
export const tell = (text: string, undo?: () => void) => set([...told, { id: (told.at(-1)?.id ?? 0) + 1, text, undo }])

export const forget = (id: number) => set(told.filter((one) => one.id !== id))

export const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

export const allTold = () => told
