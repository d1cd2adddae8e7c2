package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"

	"jardinet/measure"
)

// names of the documents in questions.txt.
var names = map[string]string{
	"GM": "glasshouse-manual.pdf", "SV": "seed-vault-manual.pdf", "RB": "railway-rule-book.pdf",
	"Q21": "quarantine-policy-2021.pdf", "Q24": "quarantine-policy-2024.pdf", "CH": "chemicals-storage-policy.pdf",
	"AR": "annual-report-2025.pdf", "ST": "storm-damage-report.pdf", "WQ": "water-quality-report.pdf",
	"FR": "informations-visiteurs.pdf", "PR": "pinetum-register.pdf", "SH": "staff-handbook.pdf", "FORM": "visitor-incident-form.pdf",
}

// questions turns questions.txt into a question set: it finds the page of each
// quotation with pdftotext, which is independent of our own reader.
func questions(from, documents, to string) error {
	data, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	pages := map[string][]string{}
	var out bytes.Buffer
	n := 0
	for _, line := range strings.Split(string(data), "\n") {
		if line == "" || line[0] == '#' {
			continue
		}
		fields := strings.Split(line, " | ")
		for i := range fields {
			fields[i] = strings.Trim(fields[i], " |")
		}
		fields = append(fields, "", "", "", "")[:6]
		n++
		q := measure.Question{ID: fmt.Sprintf("d-%03d", n), Question: fields[1], Answer: fields[2], Tags: []string{fields[0], half(n)}}
		q.Accept, q.After = split(fields[3], ";"), split(fields[5], ";")
		if fields[0] == "unanswerable" {
			no := false
			q.Answerable = &no
		} else if q.Evidence, err = evidence(fields[4], documents, pages); err != nil {
			return fmt.Errorf("%s: %w", q.Question, err)
		}
		encoded, err := encode(q)
		if err != nil {
			return err
		}
		out.Write(encoded)
	}
	return os.WriteFile(to, out.Bytes(), 0o644)
}

// half parts the set: thresholds are fitted on one half and reported on the
// other.
func half(n int) string {
	if n%2 == 1 {
		return "half:train"
	}
	return "half:test"
}

func encode(q measure.Question) ([]byte, error) {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	err := e.Encode(q)
	return b.Bytes(), err
}

func split(s, by string) []string {
	var out []string
	for _, part := range strings.Split(s, by) {
		if part = strings.TrimSpace(part); part != "" {
			out = append(out, part)
		}
	}
	return out
}

// evidence resolves "DOC quote && DOC quote || DOC quote".
func evidence(s, documents string, pages map[string][]string) ([]measure.Evidence, error) {
	var out []measure.Evidence
	for _, alternative := range split(s, "||") {
		var needed [][]measure.Evidence
		for _, part := range split(alternative, "&&") {
			found, err := locate(part, documents, pages)
			if err != nil {
				return nil, err
			}
			needed = append(needed, found)
		}
		if len(needed) == 1 {
			out = append(out, needed[0]...)
			continue
		}
		var all []measure.Evidence
		for _, found := range needed {
			all = append(all, found[0])
		}
		out = append(out, measure.Evidence{All: all})
	}
	return out, nil
}

// locate returns the pages on which a quotation stands.
func locate(s, documents string, pages map[string][]string) ([]measure.Evidence, error) {
	short, quote, _ := strings.Cut(s, " ")
	name := names[short]
	if name == "" {
		return nil, fmt.Errorf("no document is called %q", short)
	}
	if pages[name] == nil {
		raw, err := exec.Command("pdftotext", "-layout", filepath.Join(documents, name), "-").Output()
		if err != nil {
			return nil, fmt.Errorf("pdftotext %s: %w", name, err)
		}
		for _, page := range strings.Split(string(raw), "\f") {
			pages[name] = append(pages[name], squeeze(page))
		}
	}
	var out []measure.Evidence
	for i, page := range pages[name] {
		if strings.Contains(page, squeeze(quote)) {
			out = append(out, measure.Evidence{Document: name, Page: i + 1})
		}
	}
	if len(out) == 0 {
		return nil, fmt.Errorf("%q does not stand in %s", quote, name)
	}
	if len(out) > 1 {
		fmt.Fprintln(os.Stderr, "on "+strconv.Itoa(len(out))+" pages:", s)
	}
	return out, nil
}

// squeeze drops white space and what producers spell differently.
func squeeze(s string) string {
	s = strings.NewReplacer("−", "-", "ﬁ", "fi", "ﬂ", "fl", "’", "'").Replace(s)
	return strings.Join(strings.Fields(s), "")
}
