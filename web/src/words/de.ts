import type { Catalogue } from "."

export const de: Catalogue = {}
