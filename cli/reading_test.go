//go:build !client

package cli

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// TestLookingAtWhatWasRead goes the way of an engineer who finds a fault on a
// page, mends it and takes the document out.
func TestLookingAtWhatWasRead(t *testing.T) {
	start(t)
	run(t, 0, "collection", "create", "garden")
	run(t, 0, "add", documents+"annual-report-2025.pdf", "--to", "garden", "--wait")

	out, _ := run(t, 0, "findings")
	contains(t, "the findings", out, "annual-report-2025.pdf, page 4", "remark: A chart was read as 7 lines")
	out, _ = run(t, 0, "findings", "annual-report-2025.pdf", "--top", "1", "--json")
	contains(t, "the findings as JSON", out, `"severity": "remark"`)
	_, errs := run(t, 1, "findings", "no-such.pdf")
	contains(t, "the complaint", errs, "no-such.pdf")

	png := filepath.Join(t.TempDir(), "page.png")
	out, _ = run(t, 0, "page", "annual-report-2025.pdf", "4", "--png", png, "--outlines")
	contains(t, "the page", out, "figure", "Aim, 2030 | 2024 | 2025", "Figure 1. Visitors a year")
	if data, err := os.ReadFile(png); err != nil || !strings.HasPrefix(string(data), "\x89PNG") {
		t.Errorf("the picture is none: %v", err)
	}

	out, _ = run(t, 0, "correct", "annual-report-2025.pdf", "4", "--block", "3", "--text", "The strategy of 2025")
	contains(t, "the corrected page", out, "heading 1, corrected", "The strategy of 2025")
	out, _ = run(t, 0, "correct", "annual-report-2025.pdf", "4", "--block", "3", "--kind", "paragraph")
	contains(t, "the page corrected twice", out, "paragraph, corrected", "The strategy of 2025")
	out, _ = run(t, 0, "read", "annual-report-2025.pdf")
	contains(t, "the documents", out, "ready")
	out, _ = run(t, 0, "export", "annual-report-2025.pdf", "--as", "text")
	contains(t, "the text", out, "[page 4]", "The strategy of 2025")
	file := filepath.Join(t.TempDir(), "report.md")
	run(t, 0, "export", "annual-report-2025.pdf", "-o", file)
	if data, err := os.ReadFile(file); err != nil || !strings.Contains(string(data), "| Aim, 2030 | 2024 | 2025 |") {
		t.Errorf("the Markdown lacks the table, error %v", err)
	}
	out, _ = run(t, 0, "correct", "annual-report-2025.pdf", "4", "--clear")
	if strings.Contains(out, "corrected") {
		t.Errorf("cleared, the page still says\n%s", out)
	}

	for complaint, args := range map[string][]string{
		"--block":          {"correct", "annual-report-2025.pdf", "4", "--drop"},
		"has 12 blocks":    {"correct", "annual-report-2025.pdf", "4", "--block", "99", "--drop"},
		"changes nothing":  {"correct", "annual-report-2025.pdf", "4", "--block", "1"},
		"no kind":          {"correct", "annual-report-2025.pdf", "4", "--block", "1", "--kind", "poem"},
		"counted from 1":   {"correct", "annual-report-2025.pdf", "four", "--clear"},
		"no export as":     {"export", "annual-report-2025.pdf", "--as", "docx"},
		`no cut "chapter"`: {"collection", "reindex", "garden", "--cut", "chapter"},
	} {
		_, errs := run(t, 1, args...)
		contains(t, strings.Join(args, " "), errs, complaint)
	}
	out, _ = run(t, 0, "collection", "reindex", "garden", "--cut", "page")
	contains(t, "the reindexed collection", out, "garden now has 9 passages")
}
