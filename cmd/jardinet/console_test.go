package main

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
)

// A visitor looks at the console in headless Chromium.
type visitor struct {
	t       *testing.T
	tab     context.Context
	address string
}

func visit(t *testing.T, address string) *visitor {
	t.Helper()
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU, chromedp.UserDataDir(t.TempDir()))
	allocator, stop := chromedp.NewExecAllocator(t.Context(), options...)
	t.Cleanup(stop)
	tab, closeTab := chromedp.NewContext(allocator)
	t.Cleanup(closeTab)
	tab, cancel := context.WithTimeout(tab, 90*time.Second)
	t.Cleanup(cancel)
	v := &visitor{t, tab, address}
	v.do(chromedp.EmulateViewport(1280, 800))
	return v
}

func (v *visitor) do(steps ...chromedp.Action[chromedp.Void]) {
	v.t.Helper()
	if err := chromedp.Do(v.tab, steps...); err != nil {
		text, _ := chromedp.Run(v.tab, chromedp.Evaluate[string](`document.body.innerText`))
		v.t.Fatalf("%v; the page says:\n%s", err, text)
	}
}

func (v *visitor) open(path string) { v.t.Helper(); v.do(chromedp.Navigate(v.address + path)) }

// until waits for a condition, written in JavaScript.
func (v *visitor) until(condition string) {
	v.t.Helper()
	if _, err := chromedp.Run(v.tab, chromedp.Poll[bool](condition)); err != nil {
		text, _ := chromedp.Run(v.tab, chromedp.Evaluate[string](`document.body.innerText`))
		v.t.Fatalf("%s does not come true (%v); the page says:\n%s", condition, err, text)
	}
}

func (v *visitor) says(text string) {
	v.t.Helper()
	quoted, _ := json.Marshal(text)
	v.until(fmt.Sprintf("document.body.innerText.includes(%s)", quoted))
}

// accessible holds the page to the rules of axe-core.
func (v *visitor) accessible(room string) {
	v.t.Helper()
	script, err := os.ReadFile("../../web/node_modules/axe-core/axe.min.js")
	if err != nil {
		v.t.Fatal(err)
	}
	if _, err := chromedp.Run(v.tab, chromedp.Evaluate[bool](string(script)+"; true")); err != nil {
		v.t.Fatal(err)
	}
	found, err := chromedp.Run(v.tab, chromedp.Evaluate[[]string](
		`axe.run().then(r => r.violations.map(v => v.id + ": " + v.help + " — " + v.nodes[0].html))`, chromedp.EvalAwaitPromise))
	if err != nil {
		v.t.Fatal(err)
	}
	for _, violation := range found {
		v.t.Errorf("%s: %s", room, violation)
	}
}

func css(selector string) chromedp.CSS { return chromedp.CSS(selector) }

func TestConsole(t *testing.T) {
	d := serve(t, t.TempDir())
	v := visit(t, d.address)

	v.open("/")
	v.says("No collection yet")
	v.accessible("collections")
	v.do(chromedp.SendKeys(css("#name"), "garden"), chromedp.Click(css("form button")))
	v.says("Drop documents here")

	var files []string
	for _, name := range []string{"seed-vault-manual.pdf", "boiler-memo-scan.pdf", "quarantine-policy-2024.pdf", "storm-damage-report.pdf"} {
		path, err := filepath.Abs(demo + "documents/" + name)
		if err != nil {
			t.Fatal(err)
		}
		files = append(files, path)
	}
	v.do(chromedp.SetUploadFiles(css("input[type=file]"), files))
	v.says("20 pages")
	v.says("only a picture")
	v.accessible("intake")
	v.tags()

	v.open("/c/garden/ask")
	v.do(chromedp.SendKeys(css("#question"), "How long may seed stay out of the cold store?\r"))
	v.says("Four hours")
	v.until(`document.querySelectorAll("[data-mark]").length > 0`)
	v.until(`[...document.images].every(i => i.complete && i.naturalWidth > 500)`)
	v.marksLieOnThePage()
	v.accessible("ask")
	v.do(chromedp.SendKeys(css("#question"), "How many tigers live there?\r"))
	v.says("The documents do not say")
	v.says("Four hours")
	v.reports()
	v.keepsConversations()

	v.searches()
	v.open("/c/garden/ask?q=" + url.QueryEscape("How long may seed stay out of the cold store, and what colour are the trams?"))
	v.says("Four hours")
	v.says("What colour are the trams?\n\nThe documents do not say.")
	v.accessible("several questions")

	v.open("/c/garden/pages")
	v.says("Seed Vault Manual")
	v.accessible("pages")
	v.open("/c/garden/pages/seed-vault-manual.pdf/4")
	v.says("1.2 The rule of four hours")
	v.until(`document.querySelectorAll("svg rect").length > 5`)
	v.accessible("page")
	v.do(chromedp.Click(css("[aria-label='Correct block 4']")))
	v.says("Save the correction")
	v.accessible("correction")
	v.do(chromedp.SendKeys(css("form textarea"), " Corrected here."), chromedp.Click(css("form button[type=submit]")))
	v.says("Corrected here.")
	v.until(`!document.body.innerText.includes("Save the correction")`)
	v.open("/c/garden/pages")
	v.until(`document.querySelectorAll("#worst li").length > 0`)
	v.accessible("worst pages")

	v.teaches()
	v.open("/c/garden/settings")
	v.says("Glossary")
	v.says("House style")
	v.says("May the tickets of the packets go?")
	v.accessible("settings")
	v.do(chromedp.Click(css("[aria-label^='Forget']")))
	v.says("No lesson yet")

	v.open("/nowhere")
	v.says("There is nothing at this address")
}

// teaches shows where the answer to a question stands that is not found.
func (v *visitor) teaches() {
	v.t.Helper()
	v.open("/c/garden/ask?q=" + url.QueryEscape("May the tickets of the packets go?"))
	v.says("The documents do not say.")
	v.do(chromedp.Click(chromedp.Search("//button[text()='Show where the answer stands']")))
	v.says("Words on that page that answer")
	v.accessible("teaching")
	v.do(
		chromedp.SendKeys(css("form input[type=number]"), "\b\b17"),
		chromedp.SendKeys(chromedp.Search("//label[starts-with(., 'Words on that page')]/input"), "Cards are kept for ever"),
		chromedp.Click(chromedp.Search("//button[text()='Teach']")),
	)
	v.says("Cards are kept for ever.")
}

// tags puts a tag on a document and asks in the documents that have it.
func (v *visitor) tags() {
	v.t.Helper()
	v.do(chromedp.Click(css("[aria-label='Tags of storm-damage-report.pdf: none']")))
	v.says("Tags, separated by commas")
	v.accessible("tags")
	v.do(chromedp.SendKeys(css("form input:not([type=file])"), "Storm, 2025\r"))
	v.until(`document.querySelector("[aria-label='Tags of storm-damage-report.pdf: 2025, storm']") !== null`)
	v.open("/c/garden/ask?q=" + url.QueryEscape("How long may seed stay out of the cold store?"))
	v.says("Four hours")
	v.do(chromedp.Click(css("[aria-haspopup=dialog]")))
	v.says("Documents that have all of these tags")
	v.accessible("where to look")
	v.do(chromedp.Click(css("fieldset label:nth-of-type(2) input")))
	v.says("Looking in storm")
	v.do(chromedp.KeyEvent("\x1b"))
	v.press("Ask again")
	v.says("The documents do not plainly say")
}

// keepsConversations goes on with a conversation from the list, at an address of its own, and removes it.
func (v *visitor) keepsConversations() {
	v.t.Helper()
	v.until(`/ask\/[A-Z0-9]{13}$/.test(location.pathname)`)
	v.do(chromedp.Reload())
	v.says("Four hours")
	v.open("/c/garden/ask")
	v.says("Conversations")
	v.accessible("conversations")
	v.press("How long may seed stay out of the cold store?")
	v.says("How many tigers live there?")
	v.do(chromedp.SendKeys(css("#question"), "And who holds the keys to it?\r"))
	v.until(`document.querySelectorAll("ol > li h2").length === 3 && !document.body.innerText.includes("Reading")`)
	v.press("Conversations")
	v.until(`document.querySelectorAll("[aria-label^='Remove']").length > 0`)
	before := `document.querySelectorAll("[aria-label^='Remove']").length`
	n, err := chromedp.Run(v.tab, chromedp.Evaluate[int](before))
	if err != nil {
		v.t.Fatal(err)
	}
	v.do(chromedp.Click(css("[aria-label^='Remove']")))
	v.press("Remove")
	v.until(fmt.Sprintf("%s === %d", before, n-1))
}

// searches looks at passages, and what made their scores.
func (v *visitor) searches() {
	v.t.Helper()
	v.open("/c/garden/search")
	v.says("What passages are there?")
	v.do(chromedp.SendKeys(css("input[type=search]"), "cold store\r"))
	v.until(`document.querySelectorAll("main ol > li").length === 10`)
	v.accessible("search")
	v.do(chromedp.Click(css("main ol details summary")))
	v.says("words")
	v.until(`/query=cold\+store/.test(location.search)`)
}

// marksLieOnThePage checks that the marked lines are drawn within the picture.
func (v *visitor) marksLieOnThePage() {
	v.t.Helper()
	inside, err := chromedp.Run(v.tab, chromedp.Evaluate[bool](`(() => {
		const page = document.querySelector("img").getBoundingClientRect()
		return [...document.querySelectorAll("[data-mark]")].every(m => {
			const r = m.getBoundingClientRect()
			return r.width > 20 && r.left >= page.left && r.right <= page.right && r.top >= page.top && r.bottom <= page.bottom
		})
	})()`))
	if err != nil || !inside {
		v.t.Errorf("marks lie outside the page's picture: %v", err)
	}
}
