// Texts are written in English where they are shown, and looked up here in the language of
// the reader. Those of another language are fetched before any module that imports this one
// goes on, so that `t` need not wait; who chooses another language has the page drawn anew.

// A Catalogue has the words for each English text. `{name}` in both is filled in; a text with
// "|" has the words for one and for many.
export type Catalogue = Record<string, string>

export const languages = { en: "English", fr: "Français", de: "Deutsch" } as const

export type Language = keyof typeof languages

type Values = Record<string, string | number | undefined>

const kept = "language"

let catalogue: Catalogue = {}

export let language: Language = "en"

// chosen is the language that was chosen here, or the browser's.
function chosen(): Language {
  const wanted = [localStorage.getItem(kept) ?? "", ...navigator.languages].map((l) => l.slice(0, 2))
  return (wanted.find((l) => l in languages) as Language | undefined) ?? "en"
}

// prepare fetches the words of the reader's language.
async function prepare() {
  language = chosen()
  document.documentElement.lang = language
  if (language === "fr") catalogue = (await import("./fr")).fr
  if (language === "de") catalogue = (await import("./de")).de
}

// choose takes another language, from now on.
export function choose(wanted: Language) {
  localStorage.setItem(kept, wanted)
  location.reload()
}

// t says a text in the reader's language.
export function t(text: string, values: Values = {}): string {
  return fill(catalogue[text] ?? text, values)
}

// plural says a number of things, in words that fit the number: plural(2, "{n} page|{n} pages").
export function plural(n: number, forms: string, values: Values = {}): string {
  const [one = "", many = one] = (catalogue[forms] ?? forms).split("|")
  return fill(new Intl.PluralRules(language).select(n) === "one" ? one : many, { ...values, n })
}

// What these stand for is counted through, not counted: page 1024 has no comma.
const ordinals = new Set(["page", "version", "number", "place"])

function fill(text: string, values: Values): string {
  return text.replace(/\{(\w+)\}/g, (whole, name: string) => {
    const value = values[name]
    return !(name in values) ? whole : typeof value === "number" && !ordinals.has(name) ? number(value) : String(value ?? "")
  })
}

// number writes a number as the reader does.
export const number = (n: number, places = 0) =>
  n.toLocaleString(language, { maximumFractionDigits: places, minimumFractionDigits: places && n !== Math.round(n) ? places : 0 })

// when says a moment by day and minute.
export const when = (at: string) => new Date(at).toLocaleString(language === "en" ? "en-GB" : language, { dateStyle: "medium", timeStyle: "short" })

// day says a moment by its day.
export const day = (at: string) => new Date(at).toLocaleDateString(language === "en" ? "en-GB" : language, { dateStyle: "medium" })

// size says how large a file is.
export function size(bytes: number): string {
  const units = ["B", "kB", "MB", "GB", "TB"]
  let n = bytes
  let unit = 0
  for (; n >= 1000 && unit < units.length - 1; unit++) n /= 1000
  return `${number(n, unit > 0 && n < 10 ? 1 : 0)} ${units[unit] ?? ""}`
}

// lasting says a time span as people do, rounded up.
export function lasting(seconds: number): string {
  if (seconds < 60) return plural(Math.max(1, Math.ceil(seconds)), "{n} second|{n} seconds")
  if (seconds < 3600) return plural(Math.ceil(seconds / 60), "{n} minute|{n} minutes")
  return plural(Math.ceil(seconds / 3600), "{n} hour|{n} hours")
}

await prepare()
