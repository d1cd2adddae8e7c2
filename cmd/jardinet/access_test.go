package main

import (
	"context"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
)

// TestSigningIn makes the first administrator, lets a reader in, and looks at what that one is shown.
func TestSigningIn(t *testing.T) {
	d := serve(t, t.TempDir())
	fill(t, d)
	d.settled(t, "garden")
	v := visit(t, d.address)
	v.listenForBreaches()
	v.open(strings.TrimPrefix(d.link, d.address))
	v.says("Make yourself the administrator")
	v.accessible("begin")
	v.do(chromedp.SendKeys(css("input[autocomplete=username]"), "edda"), chromedp.SendKeys(css("input[type=password]"), "four loose garden words\r"))
	v.says("garden")
	v.open("/people")
	v.says("Administrator: everything")
	v.accessible("people")
	v.do(chromedp.SendKeys(css("form input:not([type=password])"), "gwen"), chromedp.SendKeys(css("form input[type=password]"), "other loose garden words\r"))
	v.says("No right yet")
	v.open("/c/garden/settings")
	v.says("Who may do what")
	v.until(`document.querySelector("section form select[aria-label=Right]") !== null`)
	v.accessible("settings of an owner")
	v.do(chromedp.SendKeys(chromedp.Search(`//label[contains(., 'Name of a person or a key')]/input`), "gwen\r"))
	v.until(`document.querySelector("select[aria-label='Right of gwen']") !== null`)
	v.open("/audit")
	v.says("set right")
	v.do(chromedp.Click(chromedp.Search(`//button[contains(., 'Check that it is whole')]`)))
	v.says("Whole: entries 1 to")
	v.accessible("audit")

	v.do(chromedp.Click(chromedp.Search(`//button[text()='Sign out']`)))
	v.says("Sign in")
	v.accessible("sign in")
	v.do(chromedp.SendKeys(css("input[autocomplete=username]"), "gwen"), chromedp.SendKeys(css("input[type=password]"), "a wrong passphrase\r"))
	v.says("no such name")
	v.do(chromedp.SendKeys(css("input[type=password]"), strings.Repeat("\b", 18)+"other loose garden words\r"))
	v.says("Audit")
	v.open("/c/garden/intake")
	v.says("seed-vault-manual.pdf")
	v.until(`!document.body.innerText.includes("Drop documents here") && document.querySelector("[aria-label^=Remove]") === null`)
	v.open("/c/garden/settings")
	v.until(`!document.body.innerText.includes("Who may do what")`)
	v.open("/people")
	v.says("needs an administrator")
	v.noBreaches()
}

// listenForBreaches notes what the page's content security policy stops.
func (v *visitor) listenForBreaches() {
	v.t.Helper()
	const note = `document.addEventListener("securitypolicyviolation", e => sessionStorage.setItem("breach", (sessionStorage.getItem("breach") || "") + e.violatedDirective + " " + e.blockedURI + " " + e.sample + "; "))`
	v.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: note})
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
