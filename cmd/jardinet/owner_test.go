package main

import (
	"strings"
	"testing"
)

// TestOwner sets a collection up: what it is for, its words, its manner, what readers said, and
// a check of all that is kept.
func TestOwner(t *testing.T) {
	v := visit(t, garden(t, "seed-vault-manual.pdf").address)
	v.open("/")
	v.press("Describe garden")
	v.accessible("a description")
	v.write("Description", "What the garden's vault keeps.")
	v.press("Save")
	v.says("What the garden's vault keeps.")

	v.open("/c/garden/settings")
	v.says("Glossary")
	v.accessible("the glossary")
	v.write("Term", "icebox")
	v.write("Means", "cold store\r")
	v.says("icebox")
	v.press("Answers")
	v.says("House style")
	v.accessible("the style")
	v.write("Add to every answer", "Ask in doubt.")
	v.choose("How sure an answer has to be", "Rather answer…")
	v.press("Save")
	v.press("Set-up and index")
	v.press("Check the index")
	v.says("The index is whole.")
	v.accessible("set-up and index")

	v.open("/c/garden/ask?q=How+long+may+seed+stay+out+of+the+icebox%3F")
	v.says("Four hours")
	v.says("Ask in doubt.")
	v.press("This is wrong")
	v.write("What is right", "Six, I believe.")
	v.press("Tell the owner")
	v.says("the collection’s owner will see it")
	v.open("/")
	v.press("1 note from readers")
	v.says("Six, I believe.")
	v.accessible("from readers")
	v.press("Done")
	v.says("Nothing waits for you")

	v.open("/service")
	v.press("Check all that is kept")
	v.says("All of it is whole.")
	v.accessible("the service")
}

// TestSigningIn makes the first administrator, lets a reader in, and looks at what that one is shown.
func TestSigningIn(t *testing.T) {
	d := garden(t, "seed-vault-manual.pdf")
	v := visit(t, d.address)
	v.listenForBreaches()
	v.open(strings.TrimPrefix(d.link, d.address))
	v.says("Make yourself the administrator")
	v.accessible("begin")
	v.write("Name", "edda")
	v.write("Passphrase", "four loose garden words\r")
	v.says("garden")
	v.open("/people")
	v.says("Administrator: everything")
	v.accessible("people")
	v.write("Name", "gwen")
	v.write("First passphrase", "other loose garden words\r")
	v.says("No right yet")
	v.open("/c/garden/settings/access")
	v.says("Who may do what")
	v.accessible("people and rights")
	v.write("Name of a person or a key", "gwen")
	v.choose("What they may do", "reader…")
	v.press("Give the right")
	v.until(`document.querySelector("[aria-label='Right of gwen']") !== null`)
	v.open("/audit")
	v.says("set right")
	v.press("Check that it is whole")
	v.says("Whole: entries 1 to")
	v.accessible("audit")

	v.press("Sign out")
	v.says("Sign in")
	v.accessible("sign in")
	v.write("Name", "gwen")
	v.write("Passphrase", "a wrong passphrase\r")
	v.says("no such name")
	v.write("Passphrase", "other loose garden words\r")
	v.says("needs an administrator")
	v.open("/c/garden/intake")
	v.says("seed-vault-manual.pdf")
	v.until(`!document.body.innerText.includes("Drop documents") && document.querySelector("[aria-label^=Remove]") === null`)
	v.open("/c/garden/settings")
	v.says("Glossary")
	v.saysNot("People and rights")
	v.open("/people")
	v.says("needs an administrator")
	v.noBreaches()
}

// TestOtherPrograms has an owner say in the console what a program is told.
func TestOtherPrograms(t *testing.T) {
	d := serve(t, t.TempDir(), "--webhook", "rota=http://127.0.0.1:9/hooks")
	if _, err := d.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	v := visit(t, d.address)
	v.open("/c/garden/settings/programs")
	v.says("rota is told when")
	v.accessible("other programs")
	told := func(want int) {
		t.Helper()
		hooks, err := d.Hooks(t.Context(), "garden")
		if err != nil || len(hooks.Hooks) != want || want == 1 && strings.Join(hooks.Hooks[0].Events, " ") != "document.ready" {
			t.Errorf("told are %+v, error %v", hooks, err)
		}
	}
	v.press("a document is ready")
	v.says("deliveries are not signed")
	told(1)
	v.press("a document is ready")
	v.saysNot("deliveries are not signed")
	told(0)
}
