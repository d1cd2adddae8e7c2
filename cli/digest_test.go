package cli

import (
	"testing"

	"jardinet/api"
)

func TestDigest(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"seed-vault-manual.pdf", "--to", "garden", "--wait")
	out, _ := run(t, 0, "digest", "seed-vault-manual.pdf", "--in", "garden")
	contains(t, "the digest", out, "# Seed Vault Manual", "## In five sentences", "## Duties and prohibitions", "(page 4)")
	out, _ = run(t, 0, "digest", "seed-vault-manual.pdf", "--part", "questions")
	contains(t, "the questions", out, "# Questions on seed-vault-manual.pdf", "1. ", "## Key", "(page ")
	out, _ = run(t, 0, "digest", "seed-vault-manual.pdf", "--as", "calendar")
	contains(t, "the calendar", out, "BEGIN:VEVENT")
	var d api.Digest
	runJSON(t, &d, "digest", "seed-vault-manual.pdf")
	id := d.Duties[0].ID
	run(t, 0, "digest", "seed-vault-manual.pdf", "--reword", id, "The keeper answers for all seed.")
	out, _ = run(t, 0, "digest", "seed-vault-manual.pdf", "--part", "duties")
	contains(t, "the duties", out, "The keeper answers for all seed.")
	run(t, 0, "digest", "seed-vault-manual.pdf", "--undo", id)
	for says, args := range map[string][]string{
		"give the text":            {"digest", "seed-vault-manual.pdf", "--reword", id},
		"one of --drop":            {"digest", "seed-vault-manual.pdf", "--drop", id, "--undo", id},
		"with --reword ID":         {"digest", "seed-vault-manual.pdf", "text"},
		"line \"none\"":            {"digest", "seed-vault-manual.pdf", "--drop", "none"},
		"choose one of summary":    {"digest", "seed-vault-manual.pdf", "--part", "jokes"},
		"json, markdown or calend": {"digest", "seed-vault-manual.pdf", "--as", "docx"},
	} {
		_, errs := run(t, 1, args...)
		contains(t, "what is wrong", errs, says)
	}
}

func TestChangesAndSummary(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"quarantine-policy-2021.pdf", documents+"quarantine-policy-2024.pdf", "--to", "garden", "--wait")
	out, _ := run(t, 0, "changes", "quarantine-policy-2024.pdf", "--since", "quarantine-policy-2021.pdf", "--in", "garden")
	contains(t, "the changes", out, "180 days instead of 90 days", "differences between quarantine-policy-2021.pdf and quarantine-policy-2024.pdf")
	_, errs := run(t, 1, "changes", "quarantine-policy-2024.pdf")
	contains(t, "what is wrong", errs, "--since")
	out, _ = run(t, 0, "summary", "--length", "page")
	contains(t, "the summary", out, "• ", "(quarantine-policy-2021.pdf, page ", "(quarantine-policy-2024.pdf, page ")
	out, _ = run(t, 0, "list", "forms")
	contains(t, "the forms", out, "form Q1", "quarantine-policy-2021.pdf, page 3", "1 item, of")
	out, _ = run(t, 0, "list", "forms", "--csv")
	contains(t, "the forms as CSV", out, "forms,document,page\nform Q1,quarantine-policy-2021.pdf,3\n")
	_, errs = run(t, 1, "summary", "--length", "long")
	contains(t, "what is wrong", errs, "short or a page")
}
