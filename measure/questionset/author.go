// Package questionset turns lists that people can write quickly into question sets.
//
// A line of a list reads
//
//	kind | question | answer | accepted; … | evidence | earlier question; …
//
// Evidence is quotations, each behind a document's short name: "GM held in the
// potting shed". "||" stands between alternatives and "&&" between quotations
// that are needed together. Their pages are found with pdftotext, which is
// independent of the reader that will be measured, and a quotation that does
// not stand in its document is an error.
package questionset

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"

	"jardinet/measure"
)

// A List says how to read a list.
type List struct {
	Prefix    string               // of the ids
	Documents map[string]string    // paths of files by short name
	Tags      func(n int) []string // further tags of the nth question; may be nil
	Warn      func(string)         // told of quotations on several pages; may be nil
	// Everywhere says that a quotation proves the answer in whichever document
	// it stands: manuals repeat each other. Not for editions of one document,
	// which do too.
	Everywhere bool
	// Closest has questions without an answer keep their quotation, of the place that looks
	// most like one, as evidence.
	Closest bool
	// Skip is told of lines that cannot be used, which are then left out; nil makes them
	// errors.
	Skip  func(error)
	pages map[string][]string
}

// Set returns the question set, JSON Lines.
func (l *List) Set(data []byte) ([]byte, error) {
	l.pages = map[string][]string{}
	var out bytes.Buffer
	n := 0
	for _, line := range strings.Split(string(data), "\n") {
		if line == "" || line[0] == '#' {
			continue
		}
		n++
		q, err := l.question(n, line)
		if err != nil {
			err = fmt.Errorf("question %d (%.60s…): %w", n, line, err)
			if l.Skip == nil {
				return nil, err
			}
			l.Skip(err)
			continue
		}
		encoded, err := encode(q)
		if err != nil {
			return nil, err
		}
		out.Write(encoded)
	}
	return out.Bytes(), nil
}

// Fields returns the six fields of a line: its kind, question, answer, accepted wordings,
// evidence, and the questions before it.
func Fields(line string) []string {
	// Fields that are left empty share the blank between them.
	line = strings.ReplaceAll(strings.ReplaceAll(line, "| |", "|  |"), "| |", "|  |")
	fields := strings.Split(line, " | ")
	for i := range fields {
		fields[i] = strings.Trim(fields[i], " |")
	}
	return append(fields, "", "", "", "", "")[:6]
}

func (l *List) question(n int, line string) (q measure.Question, err error) {
	fields := Fields(line)
	q = measure.Question{ID: fmt.Sprintf("%s%03d", l.Prefix, n), Question: fields[1], Answer: fields[2], Tags: []string{fields[0]}}
	if l.Tags != nil {
		q.Tags = append(q.Tags, l.Tags(n)...)
	}
	q.Accept, q.After = split(fields[3], ";"), split(fields[5], ";")
	if fields[0] == "unanswerable" {
		no := false
		q.Answerable = &no
		if l.Closest && fields[4] != "" {
			q.Evidence, err = l.evidence(fields[4])
		}
		return q, err
	}
	q.Evidence, err = l.evidence(fields[4])
	if err == nil && len(q.Evidence) == 0 {
		err = fmt.Errorf("it has no evidence")
	}
	return q, err
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
func (l *List) evidence(s string) ([]measure.Evidence, error) {
	var out []measure.Evidence
	for _, alternative := range split(s, "||") {
		var needed [][]measure.Evidence
		for _, part := range split(alternative, "&&") {
			found, err := l.locate(part)
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
func (l *List) locate(s string) ([]measure.Evidence, error) {
	short, quote, _ := strings.Cut(s, " ")
	if l.Documents[short] == "" {
		return nil, fmt.Errorf("no document is called %q", short)
	}
	out, err := l.find(short, quote)
	if err != nil {
		return nil, err
	}
	if len(out) == 0 {
		return nil, fmt.Errorf("%q does not stand in %s", quote, l.Documents[short])
	}
	if len(out) > 1 && l.Warn != nil {
		l.Warn(fmt.Sprintf("on %d pages: %s", len(out), s))
	}
	if !l.Everywhere {
		return out, nil
	}
	for _, other := range slices.Sorted(maps.Keys(l.Documents)) {
		if other == short {
			continue
		}
		more, err := l.find(other, quote)
		if err != nil {
			return nil, err
		}
		out = append(out, more...)
	}
	return out, nil
}

// find returns the pages of one document on which a quotation stands.
func (l *List) find(short, quote string) (out []measure.Evidence, err error) {
	path := l.Documents[short]
	if l.pages[short] == nil {
		raw, err := exec.Command("pdftotext", "-layout", path, "-").Output()
		if err != nil {
			return nil, fmt.Errorf("pdftotext %s: %w", path, err)
		}
		for _, page := range strings.Split(string(raw), "\f") {
			l.pages[short] = append(l.pages[short], squeeze(page))
		}
	}
	for i, page := range l.pages[short] {
		if strings.Contains(page, squeeze(quote)) {
			out = append(out, measure.Evidence{Document: filepath.Base(path), Page: i + 1, Quote: quote})
		}
	}
	return out, nil
}

// squeeze drops white space and what producers spell differently.
func squeeze(s string) string {
	s = strings.NewReplacer("−", "-", "ﬁ", "fi", "ﬂ", "fl", "’", "'", "ﬀ", "ff", "ﬃ", "ffi").Replace(s)
	return strings.Join(strings.Fields(s), "")
}
