// Checks the console's texts: each that people read goes through the catalogue (src/words), and
// the catalogues of the other languages have a text for each, with the same things to fill in.
import { readdirSync, readFileSync, statSync } from "node:fs"
import { join, relative } from "node:path"

import ts from "typescript"

const root = new URL("src", import.meta.url).pathname
const readable = new Set(["label", "hint", "title", "aria-label", "alt", "text", "action", "what"])
const letters = /\p{L}{2}/u
const problems = []
const keys = new Map()

for (const file of sources(root)) {
  const source = ts.createSourceFile(file, readFileSync(file, "utf8"), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX)
  visit(source, source, relative(root, file))
}
for (const language of ["fr", "de"]) check(language)
problems.forEach((p) => console.error(p))
console.log(`${keys.size} texts in English, French and German`)
process.exit(problems.length > 0 ? 1 : 0)

function sources(dir) {
  return readdirSync(dir).flatMap((name) => {
    const path = join(dir, name)
    if (statSync(path).isDirectory()) return sources(path)
    return /\.tsx?$/.test(name) && !["schema.d.ts", "fr.ts", "de.ts"].includes(name) ? [path] : []
  })
}

// visit gathers the texts that are looked up, and finds those that are not.
function visit(node, source, file) {
  const at = () => `${file}:${source.getLineAndCharacterOfPosition(node.getStart()).line + 1}`
  if (ts.isCallExpression(node) && ["t", "plural"].includes(node.expression.getText())) {
    const text = node.arguments[node.expression.getText() === "t" ? 0 : 1]
    if (text && ts.isStringLiteralLike(text)) keys.set(text.text, at())
    else if (node.expression.getText() === "t") problems.push(`${at()}: t needs a text that stands there, not ${text?.getText()}`)
  }
  if (ts.isJsxText(node) && letters.test(node.text) && node.text.trim() !== "Jardinet") problems.push(`${at()}: ${JSON.stringify(node.text.trim())} is not looked up; write {t("…")}`)
  if (ts.isJsxAttribute(node) && readable.has(node.name.getText()) && node.initializer && ts.isStringLiteral(node.initializer) && letters.test(node.initializer.text)) {
    problems.push(`${at()}: ${node.getText()} is not looked up; write {t("…")}`)
  }
  ts.forEachChild(node, (child) => visit(child, source, file))
}

// check holds a language's catalogue to the texts that there are.
function check(language) {
  const file = join(root, "words", `${language}.ts`)
  const source = ts.createSourceFile(file, readFileSync(file, "utf8"), ts.ScriptTarget.Latest, true)
  const said = new Map()
  const gather = (node) => {
    if (ts.isPropertyAssignment(node)) said.set(node.name.text, node.initializer.text)
    ts.forEachChild(node, gather)
  }
  gather(source)
  for (const [text, at] of keys) {
    const words = said.get(text)
    if (words === undefined) problems.push(`${at}: ${language}.ts lacks ${JSON.stringify(text)}`)
    else if (blanks(words) !== blanks(text)) problems.push(`${language}.ts: ${JSON.stringify(words)} has other things to fill in than ${JSON.stringify(text)}`)
  }
  for (const text of said.keys()) if (!keys.has(text)) problems.push(`${language}.ts: ${JSON.stringify(text)} is used nowhere`)
}

function blanks(text) {
  return [...new Set(text.match(/\{\w+\}/g))].sort().join(" ")
}
