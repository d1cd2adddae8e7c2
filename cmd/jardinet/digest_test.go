package main

import (
	"testing"

	"github.com/chromedp/chromedp"
)

// TestDigest reads the night before a meeting: a document at a glance, its dates, figures, duties and
// tables, each beside the page that it stands on; leaves a line out; and lists all of a kind.
func TestDigest(t *testing.T) {
	v := visit(t, garden(t, "staff-handbook.pdf", "annual-report-2025.pdf", "quarantine-policy-2021.pdf", "quarantine-policy-2024.pdf").address)
	v.listenForBreaches()
	v.open("/c/garden/pages/staff-handbook.pdf/4")
	v.press("At a glance")
	v.says("Staff Handbook at a glance")
	v.until(`document.querySelectorAll("[data-mark]").length > 0`)
	v.accessible("a summary")
	for part, says := range map[string]string{
		"Outline": "2.1 Annual leave", "Dates": "each year: 30 June", "Figures": "at least 14 characters", "Duties": "Carers may take five days", "Terms": "second factor",
	} {
		v.press(part)
		if part == "Figures" {
			v.choose("Which figures", "All, with counts")
		}
		v.says(says)
		v.accessible("the part " + part)
	}
	v.press("Plain words")
	v.choose("Chapter", "2 Leave")
	v.says("The rest lapses.")
	v.says("Reading ease")
	v.accessible("plain words")
	v.press("Duties")
	v.write("Find a duty", "Carers")
	v.says("1 line")
	v.press("Change this line")
	v.press("Leave it out")
	v.says("The line was left out.")
	v.says("0 lines")
	v.press("Undo")
	v.says("1 line")
	v.open("/c/garden/pages/annual-report-2025.pdf/digest?part=tables&table=3")
	v.says("Rhododendrons")
	v.press("Accessions")
	v.until(`document.querySelector("th[aria-sort=ascending]") !== null`)
	v.write("Find a row", "Orchids")
	v.says("1 row")
	v.press("Show 1,806 on its page")
	v.until(`document.querySelectorAll("[data-mark]").length === 1`)
	v.accessible("a table")
	v.open("/c/garden/pages/quarantine-policy-2024.pdf/digest?part=tables")
	v.press("With all tables that have these columns")
	v.says("90 days")
	v.says("180 days")
	v.accessible("joined tables")
	v.open("/c/garden/pages/quarantine-policy-2024.pdf/digest?part=changes")
	v.choose("Compared with", "quarantine-policy-2021.pdf")
	v.says("180 days instead of 90 days")
	v.accessible("what has changed")
	v.open("/c/garden/pages/staff-handbook.pdf/digest?part=questions")
	v.says("How long is the full week?")
	v.press("Quiz: hide the answers")
	v.until(`document.querySelector("ol strong") === null`)
	v.press("Show the answer")
	v.until(`document.querySelector("ol strong").innerText === "37.5 hours"`)
	v.accessible("a quiz")
	v.open("/c/garden/pages")
	v.press("Sum up all documents")
	v.until(`document.querySelectorAll("[data-state=open] ol li").length === 5`)
	v.accessible("a summary of all")
	v.open("/c/garden/search?list=telescopes")
	v.says("None found")
	v.open("/c/garden/search")
	v.press("All of a kind")
	v.write("What to list, in the plural", "families")
	v.press("List all")
	v.says("Rhododendrons")
	v.says("in a column that is called so")
	v.until(`document.querySelectorAll("[data-mark]").length > 0`)
	v.accessible("a list")
	v.do(chromedp.EmulateViewport(390, 844))
	v.open("/c/garden/pages/staff-handbook.pdf/digest")
	v.press("Notice is one month…")
	v.says("The page behind the line")
	v.accessible("the page over the summary")
	v.noBreaches()
}
