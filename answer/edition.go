package answer

import (
	"regexp"
	"strings"

	"jardinet/text"
)

var years = regexp.MustCompile(`\b(?:19|20)\d{2}\b`)

// superseded returns the candidates' documents of which a newer edition is
// among them too, unless the question names the older one's year, asks for old
// editions or compares. Editions are documents whose titles differ in nothing
// but numbers.
func superseded(q *question, candidates []Candidate) map[string]bool {
	out := map[string]bool{}
	if q.compare || speaksOfThePast(q) {
		return out
	}
	asked := years.FindString(q.standalone)
	newest := map[string]Candidate{}
	for _, c := range candidates {
		family, year := edition(c.Document)
		if year == "" || year == asked {
			continue
		}
		if n, ok := newest[family]; ok {
			_, latest := edition(n.Document)
			if year > latest {
				out[n.DocumentID] = true
				newest[family] = c
			} else if year < latest {
				out[c.DocumentID] = true
			}
			continue
		}
		newest[family] = c
	}
	if asked == "" {
		return out
	}
	// The year that was asked for is the one that counts.
	for _, c := range candidates {
		family, year := edition(c.Document)
		if year != asked {
			continue
		}
		delete(out, c.DocumentID)
		for _, other := range candidates {
			if f, y := edition(other.Document); f == family && y != asked {
				out[other.DocumentID] = true
			}
		}
	}
	return out
}

var past = words("old older former previous previously earlier before formerly used ancien ancienne fruher")

func speaksOfThePast(q *question) bool {
	for _, t := range text.Tokens(q.standalone) {
		if past[t.Word] {
			return true
		}
	}
	return false
}

// edition returns what the editions of a document have in common, and the year.
func edition(d Document) (family, year string) {
	year = years.FindString(d.Title)
	if year == "" {
		return "", ""
	}
	return strings.ReplaceAll(d.Title, year, ""), year
}
