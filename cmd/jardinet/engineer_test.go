package main

import (
	"net/url"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// TestEngineer goes from an empty service to the first cited answer, hands in many files, looks
// at what was read, corrects it, puts a new version in and teaches an answer.
func TestEngineer(t *testing.T) {
	v := visit(t, serve(t, t.TempDir()).address)
	v.open("/")
	v.says("Three steps lead to the first answer")
	v.accessible("first steps")
	v.write("Its name", "garden\r")
	v.says("Drop documents and folders here")
	v.accessible("an empty intake")
	v.handsIn()
	v.keepsDocuments()
	v.looksThrough()
	v.corrects()
	v.replaces()
	v.teaches()
}

// handsIn gives files, one of which cannot be a document, and watches them.
func (v *visitor) handsIn() {
	v.t.Helper()
	junk := filepath.Join(v.t.TempDir(), "engine.exe")
	if err := os.WriteFile(junk, []byte("MZ\x90\x00\x03\x00\x00\x00\x04\x00\xff\xff"), 0o644); err != nil {
		v.t.Fatal(err)
	}
	v.handIn("Files", junk, demo+"documents/seed-vault-manual.pdf", demo+"documents/boiler-memo-scan.pdf", demo+"documents/quarantine-policy-2024.pdf", demo+"documents/storm-damage-report.pdf")
	v.says("1 file was not taken")
	v.says("4 files were sent.")
	v.says("20 pages")
	v.says("only a picture")
	v.press("Clear this list")
	v.saysNot("1 file was not taken")
	v.accessible("intake")
	v.open("/")
	v.says("1 document could not be taken in")
	v.accessible("collections")
	v.press("1 document could not be taken in")
	v.until(`document.querySelectorAll("[role=row]").length === 2`)
	v.press("Try again")
	v.says("only a picture")
}

// keepsDocuments filters, tags and removes documents, several at a time, and takes it back.
func (v *visitor) keepsDocuments() {
	v.t.Helper()
	v.open("/c/garden/intake")
	v.press("Tags of storm-damage-report.pdf: none")
	v.accessible("tags")
	v.write("Tags, separated by commas", "Storm, 2025\r")
	v.until(`document.querySelector("[aria-label='Tags of storm-damage-report.pdf: 2025, storm']") !== null`)
	v.write("Find in names", "manual")
	v.until(`document.querySelectorAll("[role=row]").length === 2`)
	v.write("Find in names", " ")
	v.press("Select seed-vault-manual.pdf")
	v.press("Select quarantine-policy-2024.pdf")
	v.says("2 selected")
	v.accessible("selected documents")
	v.write("Tag for the selected documents", "rules\r")
	v.says("2 documents have the tag now.")
	v.choose("Tag", "rules")
	v.until(`document.querySelectorAll("[role=row]").length === 3`)
	v.choose("Tag", "Any tag")
	v.until(`document.querySelectorAll("[role=row]").length === 5`)
	v.press("Remove storm-damage-report.pdf")
	v.says("storm-damage-report.pdf was removed")
	v.press("Undo")
	v.until(`document.querySelector("[aria-label='Remove storm-damage-report.pdf']") !== null`)
	v.open("/c/garden/ask?q=" + url.QueryEscape("How long may seed stay out of the cold store?"))
	v.says("Four hours")
	v.press("Looking in all documents")
	v.accessible("where to look")
	v.press("storm")
	v.says("Looking in documents with the tags storm")
	v.key("\x1b")
	v.press("Ask again")
	v.says("The documents do not plainly say")
}

// looksThrough goes through a document by its outline, by words and by its pages.
func (v *visitor) looksThrough() {
	v.t.Helper()
	v.open("/c/garden/pages")
	v.says("Seed Vault Manual")
	v.until(`document.querySelectorAll("#worst li").length > 0`)
	v.accessible("pages")
	v.press("Seed Vault Manual…")
	v.press("2 Conditions…")
	v.says("2.1 Set points")
	v.until(`document.querySelectorAll("svg rect").length > 5`)
	v.accessible("the reader")
	v.press("Find")
	v.write("Words in this document", "four hours\r")
	v.says("places")
	v.press("4 …")
	v.until(`location.pathname.endsWith("/4") && document.querySelectorAll("[data-mark]").length > 0`)
	v.accessible("words in a document")
	v.open("/c/garden/pages/seed-vault-manual.pdf/4?side=pages")
	v.until(`document.querySelectorAll("[aria-label='page 4'] img").length === 1`)
	v.accessible("small pages")
	v.press("Passages")
	v.until(`[...document.querySelectorAll("svg text")].some(e => e.textContent === "P1")`)
	v.press("Blocks in reading order")
}

// corrects mends a block.
func (v *visitor) corrects() {
	v.t.Helper()
	v.open("/c/garden/pages/seed-vault-manual.pdf/4")
	v.press("Correct block 4")
	v.says("Save the correction")
	v.accessible("correction")
	v.do(chromedp.SendKeys(css("form textarea"), " Corrected here."))
	v.press("Save the correction")
	v.says("Corrected here.")
	v.saysNot("Save the correction")
}

// replaces puts a file of the same name in and sets both versions side by side.
func (v *visitor) replaces() {
	v.t.Helper()
	newer := filepath.Join(v.t.TempDir(), "quarantine-policy-2024.pdf")
	data, err := os.ReadFile(demo + "documents/quarantine-policy-2021.pdf")
	if err == nil {
		err = os.WriteFile(newer, data, 0o644)
	}
	if err != nil {
		v.t.Fatal(err)
	}
	v.open("/c/garden/intake")
	v.handIn("Files", newer)
	v.says("1 file was sent.")
	v.until(`document.querySelectorAll("[role=row] svg[aria-label=ready]").length === 3 && !document.body.innerText.includes("documents done")`)
	v.open("/c/garden/pages/quarantine-policy-2024.pdf/1?side=versions")
	v.says("answers come from it")
	v.until(`[...document.querySelectorAll("a")].filter(a => a.innerText === "Show beside").length === 2`)
	v.until(`(() => { [...document.querySelectorAll("a")].filter(a => a.innerText === "Show beside")[1].click(); return true })()`)
	v.says("that the other page lacks")
	v.until(`document.querySelectorAll("[data-mark]").length > 0`)
	v.accessible("two versions")
}

// teaches shows where the answer to a question stands that is not found, and has it forgotten.
func (v *visitor) teaches() {
	v.t.Helper()
	v.open("/c/garden/ask?q=" + url.QueryEscape("May the tickets of the packets go?"))
	v.says("The documents do not say.")
	v.press("Show where it stands")
	v.accessible("teaching")
	v.choose("Document", "seed-vault-manual.pdf")
	v.write("Page", "17")
	v.write("Words on that page that answer", "Cards are kept for ever")
	v.press("Teach")
	v.says("Cards are kept for ever.")
	v.open("/c/garden/settings/lessons")
	v.says("May the tickets of the packets go?")
	v.accessible("lessons")
	v.press("Forget: May the tickets…")
	v.says("No lesson yet")
}
