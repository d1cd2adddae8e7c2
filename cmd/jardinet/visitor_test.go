package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
)

// A visitor uses the console in headless Chromium, by what a person sees: the roles and names
// of things.
type visitor struct {
	t       *testing.T
	tab     context.Context
	address string
}

// patience is how long a visitor waits for all that is done in one test.
const patience = 3 * time.Minute

func visit(t *testing.T, address string) *visitor {
	t.Helper()
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU, chromedp.UserDataDir(t.TempDir()))
	allocator, stop := chromedp.NewExecAllocator(t.Context(), options...)
	t.Cleanup(stop)
	tab, closeTab := chromedp.NewContext(allocator)
	t.Cleanup(closeTab)
	tab, cancel := context.WithTimeout(tab, patience)
	t.Cleanup(cancel)
	v := &visitor{t, tab, address}
	v.do(chromedp.EmulateViewport(1280, 800))
	return v
}

func (v *visitor) do(steps ...chromedp.Action[chromedp.Void]) {
	v.t.Helper()
	if err := chromedp.Do(v.tab, steps...); err != nil {
		v.t.Fatalf("%v; the page says:\n%s", err, v.text())
	}
}

func (v *visitor) text() string {
	text, _ := chromedp.Run(v.tab, chromedp.Evaluate[string](`document.body.innerText`))
	return text
}

func (v *visitor) open(path string) { v.t.Helper(); v.do(chromedp.Navigate(v.address + path)) }

// until waits for a condition, written in JavaScript.
func (v *visitor) until(condition string) {
	v.t.Helper()
	if _, err := chromedp.Run(v.tab, chromedp.Poll[bool](condition)); err != nil {
		v.t.Fatalf("%s does not come true (%v); the page says:\n%s", condition, err, v.text())
	}
}

func (v *visitor) says(text string) {
	v.t.Helper()
	v.until(fmt.Sprintf("document.body.innerText.includes(%s)", quoted(text)))
}

func (v *visitor) saysNot(text string) {
	v.t.Helper()
	v.until(fmt.Sprintf("!document.body.innerText.includes(%s)", quoted(text)))
}

func quoted(text string) string {
	out, _ := json.Marshal(text)
	return string(out)
}

// point finds the first thing that can be seen and used, of some kinds and with a name, and
// puts a sign on it, under which the browser's own steps find it. Of a name
// that ends in "…" the beginning is enough, and of a field's.
const point = `((kinds, name) => {
	const nameOf = e => (e.getAttribute("aria-label") || (e.labels && e.labels.length && e.labels[0].innerText) || (["INPUT", "TEXTAREA"].includes(e.tagName) ? e.placeholder : e.innerText) || "").replace(/\s+/g, " ").trim()
	const usable = e => e.getClientRects().length > 0 && !e.disabled && getComputedStyle(e).visibility !== "hidden" && !e.closest("[aria-hidden=true],[inert]")
	const all = [...document.querySelectorAll(kinds)].filter(usable)
	const short = name.endsWith("…") ? name.slice(0, -1) : kinds.startsWith("input:not") ? name : undefined
	const it = all.find(e => nameOf(e) === name) || (short && all.find(e => nameOf(e).startsWith(short)))
	document.querySelectorAll("[data-pointed]").forEach(e => delete e.dataset.pointed)
	if (it) it.dataset.pointed = ""
	return it !== undefined
})`

const (
	controls = "button,a[href],summary,input[type=checkbox],input[type=radio],[role=tab],[role=radio],[role=checkbox],[role=menuitem],[role=option]"
	fields   = "input:not([type=checkbox]):not([type=radio]),textarea"
)

func (v *visitor) find(kinds, name string) chromedp.CSS {
	v.t.Helper()
	if _, err := chromedp.Run(v.tab, chromedp.Poll[bool](point+fmt.Sprintf("(%s, %s)", quoted(kinds), quoted(name)))); err != nil {
		v.t.Fatalf("there is no %q to use (%v); the page says:\n%s", name, err, v.text())
	}
	return css("[data-pointed]")
}

// press clicks what has a name.
func (v *visitor) press(name string) {
	v.t.Helper()
	v.do(chromedp.Click(v.find(controls, name)))
}

// write types into the field of a name, in place of what it holds.
func (v *visitor) write(name, text string) {
	v.t.Helper()
	at := v.find(fields, name)
	v.until(`(() => { const e = document.querySelector("[data-pointed]"); e.focus(); e.select?.(); return true })()`)
	v.do(chromedp.SendKeys(at, text))
}

// choose picks one of several by its name.
func (v *visitor) choose(name, one string) {
	v.t.Helper()
	v.press(name)
	v.do(chromedp.Click(v.find("[role=option]", one)))
	v.until(`document.querySelector("[role=listbox]") === null`)
}

func (v *visitor) key(key string) { v.t.Helper(); v.do(chromedp.KeyEvent(key)) }

// handIn gives files to the field of a name, as a person who picks them would.
func (v *visitor) handIn(name string, files ...string) {
	v.t.Helper()
	for i := range files {
		path, err := filepath.Abs(files[i])
		if err != nil {
			v.t.Fatal(err)
		}
		files[i] = path
	}
	v.do(chromedp.SetUploadFiles(css("input[aria-label='"+name+"']"), files))
}

func css(selector string) chromedp.CSS { return chromedp.CSS(selector) }

// tooWide names the first thing that makes the page wider than a small telephone, once what is drawn
// to a width that was measured, such as a chart, has had its frames to be drawn anew.
const tooWide = `(async () => {
	for (let frame = 0; frame < 60; frame++) {
		await new Promise(requestAnimationFrame)
		if (document.documentElement.scrollWidth <= 360) return ""
	}
	const scrolls = e => e && e !== document.body && (getComputedStyle(e).overflowX !== "visible" || scrolls(e.parentElement))
	const wide = [...document.body.querySelectorAll("*")].find(e => e.getBoundingClientRect().right > 361 && !scrolls(e.parentElement))
	return wide ? wide.outerHTML.slice(0, 200) : "the page"
})()`

// accessible holds the view to the rules of axe-core, in light and in dark, and to the width of
// a small telephone, which is that of 400 % on a usual screen as well.
func (v *visitor) accessible(room string) {
	v.t.Helper()
	script, err := os.ReadFile("../../web/node_modules/axe-core/axe.min.js")
	if err != nil {
		v.t.Fatal(err)
	}
	if _, err := chromedp.Run(v.tab, chromedp.Evaluate[bool](string(script)+"; true")); err != nil {
		v.t.Fatal(err)
	}
	for _, theme := range []string{"dark", "light"} {
		found, err := chromedp.Run(v.tab, chromedp.Evaluate[[]string](
			`document.documentElement.dataset.theme = "`+theme+`"; new Promise(requestAnimationFrame).then(() => axe.run()).then(r => r.violations.map(v => v.id + ": " + v.help + " — " + v.nodes[0].html))`, chromedp.EvalAwaitPromise))
		if err != nil {
			v.t.Fatal(err)
		}
		for _, violation := range found {
			v.t.Errorf("%s, %s: %s", room, theme, violation)
		}
	}
	v.do(chromedp.EmulateViewport(360, 740))
	wide, err := chromedp.Run(v.tab, chromedp.Evaluate[string](tooWide, chromedp.EvalAwaitPromise))
	if err != nil || wide != "" {
		v.t.Errorf("%s is wider than a telephone: %s %v", room, wide, err)
	}
	v.do(chromedp.EmulateViewport(1280, 800))
}

// listenForBreaches notes what the page's content security policy stops.
func (v *visitor) listenForBreaches() {
	v.t.Helper()
	const note = `document.addEventListener("securitypolicyviolation", e => sessionStorage.setItem("breach", (sessionStorage.getItem("breach") || "") + e.violatedDirective + " " + e.blockedURI + " " + e.sample + "; "))`
	v.first(note)
}

// first runs a script in each page before the page's own.
func (v *visitor) first(script string) {
	v.t.Helper()
	v.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: script})
		return chromedp.Void{}, err
	})
}

func (v *visitor) noBreaches() {
	v.t.Helper()
	found, err := chromedp.Run(v.tab, chromedp.Evaluate[string](`sessionStorage.getItem("breach") || ""`))
	if err != nil {
		v.t.Fatal(err)
	}
	if found != "" {
		v.t.Errorf("the policy stopped: %s", found)
	}
}
