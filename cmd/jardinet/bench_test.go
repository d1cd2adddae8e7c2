package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"

	"jardinet/api"
)

// press clicks the first button or link that says something.
func (v *visitor) press(says string) {
	v.t.Helper()
	v.do(chromedp.Click(chromedp.Search(`//*[self::button or self::a][normalize-space()="` + says + `"][not(@disabled)]`)))
}

// script does something that a mouse does in more steps.
func (v *visitor) script(body string) {
	v.t.Helper()
	v.until("(() => {" + body + "; return true })()")
}

// reports says of the last answer that the documents do say it.
func (v *visitor) reports() {
	v.t.Helper()
	v.press("The documents do say it")
	v.press("Tell the owner")
	v.says("the collection’s owner will see it")
}

// TestBenchInConsole keeps a question set, measures, tries another set-up, compares, judges and
// sweeps, as an owner would with mouse and keyboard.
func TestBenchInConsole(t *testing.T) {
	d := serve(t, t.TempDir())
	if _, err := d.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	if _, _, err := d.Add(t.Context(), "garden", []string{demo + "documents/seed-vault-manual.pdf"}); err != nil {
		t.Fatal(err)
	}
	if _, err := d.Settle(t.Context(), "garden", (*api.Document).Settled); err != nil {
		t.Fatal(err)
	}
	v := visit(t, d.address)
	set := filepath.Join(t.TempDir(), "First set.jsonl")
	os.WriteFile(set, []byte(`{"id":"a","question":"How long may seed stay out of the cold store?","answer":"Four hours","accept":["four hours"],"evidence":[{"document":"seed-vault-manual.pdf","page":4}],"tags":["lookup"]}
{"id":"b","question":"Who keeps the tigers?","answerable":false,"tags":["not said"]}
{"id":"c","question":"What is the set point of the cold store?","accept":["seven degrees"],"evidence":[{"document":"seed-vault-manual.pdf","page":5}],"tags":["lookup"]}
`), 0o644)

	v.open("/c/garden/accuracy")
	v.says("Nothing measured yet")
	v.press("Make a question set")
	v.says("No question set yet")
	v.accessible("no question sets")
	v.do(chromedp.SetUploadFiles(css("input[type=file]"), []string{set}))
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
	v.do(chromedp.SendKeys(css("form[aria-label='New trial'] input"), "shorter"))
	v.press("Make the trial")
	v.until(`[...document.querySelectorAll("button")].some(b => b.innerText === "Promote" && !b.disabled)`)
	v.accessible("set-ups")
	v.open("/c/garden/accuracy")
	v.until(`document.querySelectorAll("select option").length > 2`)
	v.script(`const s = document.querySelectorAll("form select")[1]; s.value = "shorter"; s.dispatchEvent(new Event("change", { bubbles: true }))`)
	v.press("Measure")
	v.until(`document.querySelectorAll("tbody a").length === 2`)
	v.script(`document.querySelectorAll("tbody input").forEach(i => i.click())`)
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
