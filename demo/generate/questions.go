package main

import (
	"log"
	"os"
	"path/filepath"

	"jardinet/measure/questionset"
)

// names of the documents in questions.txt.
var names = map[string]string{
	"GM": "glasshouse-manual.pdf", "SV": "seed-vault-manual.pdf", "RB": "railway-rule-book.pdf",
	"Q21": "quarantine-policy-2021.pdf", "Q24": "quarantine-policy-2024.pdf", "CH": "chemicals-storage-policy.pdf",
	"AR": "annual-report-2025.pdf", "ST": "storm-damage-report.pdf", "WQ": "water-quality-report.pdf",
	"FR": "informations-visiteurs.pdf", "PR": "pinetum-register.pdf", "SH": "staff-handbook.pdf", "FORM": "visitor-incident-form.pdf",
}

// questions turns questions.txt into the demo's question set.
func questions(from, documents, to string) error {
	data, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	list := questionset.List{Prefix: "d-", Documents: map[string]string{}, Tags: half, Warn: func(s string) { log.Print(s) }}
	for short, name := range names {
		list.Documents[short] = filepath.Join(documents, name)
	}
	set, err := list.Set(data)
	if err != nil {
		return err
	}
	return os.WriteFile(to, set, 0o644)
}

// half parts the set: thresholds are fitted on one half and reported on the
// other.
func half(n int) []string {
	if n%2 == 1 {
		return []string{"half:train"}
	}
	return []string{"half:test"}
}
