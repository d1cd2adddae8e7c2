//go:build !client

package cli

import (
	"strings"
	"testing"
)

func TestTagsKeepQuestionsToSomeDocuments(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"seed-vault-manual.pdf", "--to", "garden", "--tag", "Vault", "--wait")
	run(t, 0, "add", documents+"staff-handbook.pdf", "--to", "garden", "--wait")

	out, _ := run(t, 0, "documents")
	contains(t, "the documents", out, "TAGS", "vault")
	out, _ = run(t, 0, "tag", "staff-handbook.pdf", "seed-vault-manual.pdf", "--put", "staff", "--put", "2026")
	contains(t, "two documents tagged", out, "2026, staff, vault")
	out, _ = run(t, 0, "tag", "seed-vault-manual.pdf", "--drop", "staff")
	if contains(t, "one tag less", out, "2026, vault"); strings.Contains(out, "staff") {
		t.Errorf("a tag taken off is still there:\n%s", out)
	}
	out, _ = run(t, 0, "tag", "staff-handbook.pdf", "--json")
	contains(t, "tags as JSON", out, `"tags": [`, `"staff"`)

	const question = "How long may seed stay out of the cold store?"
	out, _ = run(t, 0, "ask", question, "--tag", "2026", "--tag", "vault")
	contains(t, "asked where it stands", out, "Four hours")
	out, _ = run(t, 0, "ask", question, "--tag", "staff")
	contains(t, "asked elsewhere", out, "The documents do not say")
	out, _ = run(t, 0, "find", "cold store", "--tag", "staff")
	if strings.Contains(out, "seed-vault-manual.pdf") {
		t.Errorf("found in a document without the tag:\n%s", out)
	}

	_, errs := run(t, 1, "tag", "none.pdf", "--put", "x")
	contains(t, "the complaint", errs, "none.pdf")
	_, errs = run(t, 1, "tag", "staff-handbook.pdf", "--put", "a,b")
	contains(t, "the complaint", errs, "commas")
}
