package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// TestBenchInConsole keeps a question set, measures, tries another set-up, compares, judges and
// sweeps, as an owner would with mouse and keyboard.
func TestBenchInConsole(t *testing.T) {
	v := visit(t, garden(t, "seed-vault-manual.pdf").address)
	set := filepath.Join(t.TempDir(), "First set.jsonl")
	os.WriteFile(set, []byte(`{"id":"a","question":"How long may seed stay out of the cold store?","answer":"Four hours","accept":["four hours"],"evidence":[{"document":"seed-vault-manual.pdf","page":4}],"tags":["lookup"]}
{"id":"b","question":"Who keeps the tigers?","answerable":false,"tags":["not said"]}
{"id":"c","question":"What is the set point of the cold store?","accept":["seven degrees"],"evidence":[{"document":"seed-vault-manual.pdf","page":5}],"tags":["lookup"]}
`), 0o644)

	v.open("/c/garden/accuracy")
	v.says("Nothing measured yet")
	v.press("Make a question set to measure with")
	v.says("No question set yet")
	v.accessible("no question sets")
	v.handIn("Question set", set)
	v.says("Who keeps the tigers?")
	v.says("What no question touches")
	v.accessible("question set")
	v.press("Edit")
	v.says("Accepted wordings")
	v.press("Pick on a page")
	v.until(`document.querySelectorAll("form svg rect").length > 0`)
	v.accessible("question form")
	v.press("The whole page")
	v.press("Save")
	v.says("version 2")

	v.open("/c/garden/accuracy")
	v.press("Measure")
	v.until(`document.querySelectorAll("tbody a").length === 1`)
	v.accessible("measurements")
	v.do(chromedp.Click(css("tbody a")))
	v.says("Where questions were lost")
	v.says("Question by question")
	v.until(`document.querySelectorAll(".recharts-bar-rectangle").length > 0`)
	v.accessible("measurement")

	v.open("/c/garden/accuracy/setups")
	v.write("Name", "shorter")
	v.press("Make the trial")
	v.until(`[...document.querySelectorAll("button")].some(b => b.innerText === "Promote" && !b.disabled)`)
	v.accessible("set-ups")
	v.open("/c/garden/accuracy")
	v.choose("Set-up", "shorter")
	v.press("Measure")
	v.until(`document.querySelectorAll("tbody a").length === 2`)
	v.until(`(() => { document.querySelectorAll("tbody input").forEach(i => i.click()); return true })()`)
	v.press("Compare two")
	v.says("Before and after")
	v.says("McNemar")
	v.accessible("comparison")

	v.open("/c/garden/accuracy")
	v.until(`document.querySelectorAll("tbody input").length === 2`)
	v.do(chromedp.Click(css("tbody input")))
	v.press("Judge answers")
	v.says("1 of 3")
	v.accessible("judging")
	for _, next := range []string{"2 of 3", "3 of 3", "All judged"} {
		v.do(chromedp.KeyEvent("1"))
		v.says(next)
	}

	v.open("/c/garden/accuracy/sweeps")
	v.says("Nothing swept yet")
	v.press("Sweep")
	v.says("On questions about documents that the choice was not made by")
	v.until(`document.querySelectorAll(".recharts-scatter-symbol").length > 2`)
	v.accessible("sweeps")
}
