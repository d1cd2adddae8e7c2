package main

import (
	"fmt"
	"net/url"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// garden serves a collection of a few of the demo's documents.
func garden(t *testing.T, names ...string) *daemon {
	t.Helper()
	d := serve(t, t.TempDir())
	d.takes(t, "garden", names...)
	return d
}

// takes makes a collection of a few of the demo's documents, and waits for them.
func (d *daemon) takes(t *testing.T, collection string, names ...string) {
	t.Helper()
	if _, err := d.CreateCollection(t.Context(), collection, nil); err != nil {
		t.Fatal(err)
	}
	for i := range names {
		names[i] = demo + "documents/" + names[i]
	}
	if _, _, err := d.Add(t.Context(), collection, names); err != nil {
		t.Fatal(err)
	}
	d.settled(t, collection)
}

// TestReader asks, looks at the page behind each statement, asks on, meets a question that the
// documents do not answer and asks a person.
func TestReader(t *testing.T) {
	v := visit(t, garden(t, "seed-vault-manual.pdf", "quarantine-policy-2024.pdf").address)
	v.listenForBreaches()
	v.open("/c/garden/ask")
	v.says("What would you like to know?")
	v.accessible("an empty conversation")
	v.write("What would you like to know?", "How long may seed stay out of the cold store?\r")
	v.says("Four hours")
	v.looksAtThePage()
	v.asksOn()
	v.isRefused()
	v.keepsConversations()
	v.searches()
	v.open("/c/garden/ask?q=" + url.QueryEscape("How long may seed stay out of the cold store, and what colour are the trams?"))
	v.says("Four hours")
	v.says("What colour are the trams?\n\nThe documents do not say.")
	v.accessible("several questions")
	v.open("/nowhere")
	v.says("There is nothing at this address")
	v.noBreaches()
}

// looksAtThePage checks an answer against its page, with the mouse and with the keyboard.
func (v *visitor) looksAtThePage() {
	v.t.Helper()
	v.until(`document.querySelectorAll("[data-mark]").length > 0`)
	v.until(`[...document.images].every(i => i.complete && i.naturalWidth > 500)`)
	v.marksLieOnThePage()
	v.accessible("an answer")
	v.until(`(() => { document.querySelector("p button[aria-pressed]").focus(); return true })()`)
	v.says("“Seed that has been dried") // the quote, as long as the mark has the focus
	v.key("\x1b")
	v.press("Larger")
	v.says("125 %")
	v.until(`(() => { document.activeElement.blur(); return true })()`)
	v.key(kb.ArrowRight)
	v.says("Page 5 of 20")
	v.key("?")
	v.says("Keys in this view")
	v.says("Next place of the answer")
	v.accessible("the keys")
	v.key("\x1b")
	v.press("1: show where this stands…")
	v.until(`document.querySelector("svg text.page-text") !== null`) // which can be selected
	v.press("More")
	v.press("Copy its address")
	v.do(chromedp.EmulateViewport(390, 844))
	v.press("1: show where this stands…")
	v.says("The cited page")
	v.accessible("the cited page over the conversation")
	v.do(chromedp.EmulateViewport(390, 844))
	v.press("Close")
	v.do(chromedp.EmulateViewport(1280, 800))
}

func (v *visitor) asksOn() {
	v.t.Helper()
	v.until(`/ask\/[A-Z0-9]{13}$/.test(location.pathname)`)
	v.write("Ask a follow-up", "And who holds the keys to it?")
	v.do(chromedp.Reload()) // what was typed survives
	v.until(`document.querySelector("#question")?.value === "And who holds the keys to it?"`)
	v.do(chromedp.SendKeys(css("#question"), "\r"))
	v.until(`document.querySelectorAll("ol > li h2").length === 2 && !document.body.innerText.includes("Stop")`)
	v.press("How this came about")
	v.says("What was looked for")
	v.accessible("how an answer came about")
}

// isRefused asks what the documents do not say, sees the nearest places and asks a person.
func (v *visitor) isRefused() {
	v.t.Helper()
	v.write("Ask a follow-up", "How many tigers live there?\r")
	v.says("The documents do not say")
	v.says("What comes closest")
	v.until(`document.querySelectorAll("[data-mark]").length > 0`)
	v.accessible("a refusal")
	v.press("Ask a person")
	v.write("What you need to know", "Tigers, not lilies.\r")
	v.says("The collection’s owner has your question now.")
}

// keepsConversations goes on with a conversation from the list and removes it.
func (v *visitor) keepsConversations() {
	v.t.Helper()
	v.open("/c/garden/ask")
	v.says("Conversations")
	v.accessible("conversations")
	v.press("How long may seed stay out of the cold store?")
	v.says("How many tigers live there?")
	v.press("Conversations")
	v.press("Remove “How long…")
	v.press("Remove")
	v.until(`document.querySelectorAll("[aria-label^='Remove “']").length === 0`)
}

// searches looks at passages, and what made their scores.
func (v *visitor) searches() {
	v.t.Helper()
	v.open("/c/garden/search")
	v.says("What passages are there?")
	v.write("Words", "cold store\r")
	v.until(`document.querySelectorAll("main ol > li").length === 10`)
	v.accessible("search")
	v.press("score…")
	v.says("words")
	v.until(`/query=cold\+store/.test(location.search)`)
	v.choose("Passages", "25 passages")
	v.until(`document.querySelectorAll("main ol > li").length > 10`)
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

// TestLanguages looks at the console in each of its languages, as browsers ask for them.
func TestLanguages(t *testing.T) {
	d := garden(t, "seed-vault-manual.pdf")
	for language, want := range map[string][2]string{"fr": {"Que voulez-vous savoir", "Collections"}, "de": {"Was möchten Sie wissen?", "Sammlungen"}} {
		v := visit(t, d.address)
		v.open("/c/garden/ask")
		v.until(fmt.Sprintf(`(() => { localStorage.setItem("language", %q); return true })()`, language))
		v.open("/c/garden/ask")
		v.says(want[0])
		v.press(want[1])
		v.until(fmt.Sprintf(`document.documentElement.lang === %q`, language))
		v.accessible("the collections in " + language)
		v.open("/c/garden/intake")
		v.saysNot("Choose files")
	}
}
