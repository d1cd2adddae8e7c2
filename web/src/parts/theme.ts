const kept = "theme"

// theme is the look that was chosen here, empty for the system's.
export const theme = () => localStorage.getItem(kept) ?? ""

// dress takes a look.
export function dress(wanted: string) {
  localStorage.setItem(kept, wanted)
  if (wanted) document.documentElement.dataset.theme = wanted
  else delete document.documentElement.dataset.theme
}
