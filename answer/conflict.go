package answer

import (
	"regexp"
	"strings"
	"time"
)

// years are what editions of a document differ by.
var years = regexp.MustCompile(`\b(?:19|20)\d{2}\b`)

// superseded returns the candidates' documents of which a newer edition is among them
// too. Editions are documents whose titles differ in nothing but the year. If a question
// names a year, its edition counts and no other.
func superseded(question string, candidates []Candidate) map[string]bool {
	asked := map[string]bool{}
	for _, y := range years.FindAllString(question, -1) {
		asked[y] = true
	}
	counts := map[string]string{} // the year that counts of a family
	for _, c := range candidates {
		family, year := edition(c.Document)
		if best := counts[family]; year != "" && (best == "" || asked[year] && !asked[best] || asked[year] == asked[best] && year > best) {
			counts[family] = year
		}
	}
	out := map[string]bool{}
	for _, c := range candidates {
		family, year := edition(c.Document)
		if year != "" && year != counts[family] && !asked[year] {
			out[c.DocumentID] = true
		}
	}
	return out
}

// edition returns what the editions of a document have in common, and the year.
func edition(d Document) (family, year string) {
	year = years.FindString(d.Title)
	if year == "" {
		return "", ""
	}
	return strings.ReplaceAll(d.Title, year, ""), year
}

// Bounds on what contradicts an answer: by how much less it may answer, as a logit, and
// which share of its sentence's words, without figures, has to be the same.
const (
	nearlyAsRelevant = 2.5
	nearlyTheSame    = 0.6
)

// contrary returns the finding of another document that says nearly the same sentence with
// other words for an answer.
func contrary(s *Search, found []finding) (finding, bool) {
	best := &found[0]
	words := func(f *finding) string {
		return s.Candidates[f.candidate].Passage.Text[f.from:f.to]
	}
	if best.from == best.to {
		return finding{}, false
	}
	said := sentence(s.Candidates[best.candidate].Passage, best.best)
	for i := range found[1:] {
		f := &found[i+1]
		c := &s.Candidates[f.candidate]
		if c.DocumentID == s.Candidates[best.candidate].DocumentID || f.reading.Relevance < best.reading.Relevance-nearlyAsRelevant || f.from == f.to {
			continue
		}
		other := sentence(c.Passage, f.best)
		if sameBut(said, other) && !strings.EqualFold(words(f), words(best)) && !strings.Contains(said, words(f)) {
			return *f, true
		}
	}
	return finding{}, false
}

// sameBut tells whether two sentences share most of their words without figures.
func sameBut(a, b string) bool {
	x, y := wordSet(a), wordSet(b)
	for _, words := range []map[string]bool{x, y} {
		for w := range words {
			if strings.ContainsAny(w, "0123456789") {
				delete(words, w)
			}
		}
	}
	shared := 0
	for w := range x {
		if y[w] {
			shared++
		}
	}
	return shared > 1 && float64(shared) >= nearlyTheSame*float64(max(len(x), len(y)))
}

// dated names a document with the year of its edition or the day it was put in.
func dated(d Document) string {
	title := d.Title
	if title == "" {
		title = d.Name
	}
	if years.MatchString(title) || d.Added.IsZero() {
		return title
	}
	return title + " (put in on " + d.Added.Format(time.DateOnly) + ")"
}
