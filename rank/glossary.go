package rank

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strings"

	"jardinet/text"
)

// An Entry is a line of a collection's glossary: a term and what it means.
type Entry struct {
	Kind          Kind          `json:"kind"`
	Term          string        `json:"term"`
	Means         string        `json:"means"`
	Language      text.Language `json:"language,omitempty"`       // of the term; English if empty
	MeansLanguage text.Language `json:"means_language,omitempty"` // of a translation
}

// A Kind says how the two sides of an entry belong together.
type Kind string

// Kinds of entries.
const (
	Synonym      Kind = "synonym"
	Abbreviation Kind = "abbreviation"
	Translation  Kind = "translation"
)

var kinds = []Kind{Synonym, Abbreviation, Translation}

var glossaryHeader = []string{"kind", "term", "means", "language", "means_language"}

// Bounds of a glossary.
const (
	maxEntries   = 20_000
	longestEntry = 5 // words
)

// Validate tells what is wrong with an entry.
func (e *Entry) Validate() error {
	switch {
	case !slices.Contains(kinds, e.Kind):
		return fmt.Errorf("kind %q: use synonym, abbreviation or translation", e.Kind)
	case len(words(e.Term)) == 0 || len(words(e.Means)) == 0:
		return fmt.Errorf("%s %q, %q: both sides need a word", e.Kind, e.Term, e.Means)
	case len(words(e.Term)) > longestEntry:
		return fmt.Errorf("%q has more than %d words", e.Term, longestEntry)
	case e.Kind == Translation && e.MeansLanguage == "":
		return fmt.Errorf("translation %q: give the language of %q in means_language, such as fr", e.Term, e.Means)
	}
	return nil
}

// ReadGlossary reads entries from CSV with the columns kind, term, means and, if
// wanted, language and means_language.
func ReadGlossary(data []byte) ([]Entry, error) {
	r := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(data, []byte("\ufeff"))))
	r.FieldsPerRecord = -1
	header, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("glossary: the first line must be %s: %w", strings.Join(glossaryHeader, ","), err)
	}
	column := map[string]int{}
	for i, name := range header {
		column[strings.ToLower(strings.TrimSpace(name))] = i
	}
	for _, name := range glossaryHeader[:3] {
		if _, ok := column[name]; !ok {
			return nil, fmt.Errorf("glossary: column %s is missing; the first line must be %s", name, strings.Join(glossaryHeader, ","))
		}
	}
	var out []Entry
	for {
		record, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, fmt.Errorf("glossary: %w", err)
		}
		field := func(name string) string {
			if i, ok := column[name]; ok && i < len(record) {
				return strings.TrimSpace(record[i])
			}
			return ""
		}
		e := Entry{Kind(field("kind")), field("term"), field("means"), text.Language(field("language")), text.Language(field("means_language"))}
		if err := e.Validate(); err != nil {
			line, _ := r.FieldPos(0)
			return nil, fmt.Errorf("glossary: line %d: %w", line, err)
		}
		if out = append(out, e); len(out) > maxEntries {
			return nil, fmt.Errorf("glossary: it has more than %d entries", maxEntries)
		}
	}
}

// WriteGlossary writes what ReadGlossary reads.
func WriteGlossary(entries []Entry) []byte {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.Write(glossaryHeader)
	for _, e := range entries {
		w.Write([]string{string(e.Kind), e.Term, e.Means, string(e.Language), string(e.MeansLanguage)})
	}
	w.Flush()
	return out.Bytes()
}

// expansion matches "Standing Safety Instruction (SSI)" up to the bracket.
var expansion = regexp.MustCompile(`\(([A-Z][A-Za-z]{1,7})\)`)

// Abbreviations returns the abbreviations that a text explains by putting them in
// brackets after the words whose first letters they are.
func Abbreviations(s string) []Entry {
	var out []Entry
	for _, at := range expansion.FindAllStringSubmatchIndex(s, -1) {
		short := s[at[2]:at[3]]
		if strings.ToUpper(short) != short && strings.ToUpper(strings.TrimSuffix(short, "s")) != strings.TrimSuffix(short, "s") {
			continue
		}
		if long := spelledOut(s[:at[0]], strings.ToLower(strings.TrimSuffix(short, "s"))); long != "" {
			out = append(out, Entry{Kind: Abbreviation, Term: strings.TrimSuffix(short, "s"), Means: long})
		}
	}
	return out
}

// spelledOut returns the last words of a text if their first letters are the
// given ones; small words between may go without.
func spelledOut(before, letters string) string {
	tokens := text.Tokens(before)
	at, first := len(letters)-1, -1
	for i := len(tokens) - 1; i >= 0 && at >= 0; i-- {
		if strings.Contains(before[tokens[i].End:], "\n") {
			return ""
		}
		switch {
		case tokens[i].Word[0] == letters[at]:
			at--
			first = i
		case !text.IsFunctionWord(tokens[i].Word, text.English):
			return ""
		}
	}
	if at >= 0 || len(letters) < 2 || first < 0 {
		return ""
	}
	return strings.TrimSpace(before[tokens[first].Start:])
}
