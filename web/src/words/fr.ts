import type { Catalogue } from "."

export const fr: Catalogue = {}
