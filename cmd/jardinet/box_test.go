package main

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"jardinet/api"
	"jardinet/client"
)

// TestQuestionBox puts the box on a page of another site, asks there, and looks at the page. What
// its key may not do is refused, and so is a site that the operator does not name.
func TestQuestionBox(t *testing.T) {
	held := `<p>No box here.</p>`
	intranet := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		fmt.Fprintf(w, `<!doctype html><html lang="en"><title>Intranet</title><main><h1>Intranet</h1>%s</main>`, held)
	}))
	defer intranet.Close()
	d := serve(t, t.TempDir(), "--origin", intranet.URL)
	d.takes(t, "garden", "seed-vault-manual.pdf")
	_, secret, _ := strings.Cut(d.link, "#")
	starter, err := client.New(d.address, secret)
	if err != nil {
		t.Fatal(err)
	}
	root, err := starter.CreateKey(t.Context(), api.NewKey{Name: "root", Administrator: true})
	if err != nil {
		t.Fatal(err)
	}
	administrator, err := client.New(d.address, root.Secret)
	if err != nil {
		t.Fatal(err)
	}
	key, err := administrator.CreateKey(t.Context(), api.NewKey{Name: "intranet", Asks: true, Rights: map[string]string{"garden": "reader"}})
	if err != nil {
		t.Fatal(err)
	}
	held = fmt.Sprintf(`<script src="%s/box.js" data-collection="garden" data-key="%s" defer></script>`, d.address, key.Secret)

	v := visit(t, intranet.URL)
	v.open("/")
	const box = `document.querySelector("jardinet-box")?.shadowRoot`
	v.until(box + ` !== undefined && ` + box + ` !== null`)
	v.until(`(() => { const r = ` + box + `; r.querySelector("input").value = "How long may seed stay out of the cold store?"; r.querySelector("form").requestSubmit(); return true })()`)
	v.until(box + `.textContent.includes("Four hours")`)
	v.accessible("the question box")
	v.until(`(() => { ` + box + `.querySelector(".mark").click(); return true })()`)
	v.until(box + `.querySelector(".page img").naturalWidth > 500 && ` + box + `.querySelectorAll(".page i").length > 0`)
	v.accessible("the page in the question box")

	asker, err := client.New(d.address, key.Secret)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := asker.Documents(t.Context(), "garden"); err == nil || !strings.Contains(err.Error(), "nothing else") {
		t.Errorf("the box's key lists documents: %v", err)
	}
	other := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { fmt.Fprintf(w, `<!doctype html>%s`, held) }))
	defer other.Close()
	stranger := visit(t, other.URL)
	stranger.open("/")
	stranger.until(box + ` !== undefined && ` + box + ` !== null`)
	stranger.until(`(() => { const r = ` + box + `; r.querySelector("input").value = "Why?"; r.querySelector("form").requestSubmit(); return true })()`)
	stranger.until(box + `.textContent.includes("Failed to fetch")`)
}
