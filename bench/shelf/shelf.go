// Package shelf spreads the documents of a large collection over shelves of a few. The
// questions on them were put to one document each: among all others "Who chaired the
// meeting?" has many answers, among the few on a shelf it is a fair question.
package shelf

import (
	"crypto/sha256"

	"jardinet/answer"
	"jardinet/measure"
)

const shelves = 12

func of(document string) byte { return sha256.Sum256([]byte(document))[1] % shelves }

// Among returns which documents of an answerer's index, by their keys, share a shelf with
// those that a question is about; all of them for a question about none.
func Among(a *answer.Answerer, q *measure.Question) func(key string) bool {
	about := map[byte]bool{}
	for _, e := range q.Places() {
		about[of(e.Document)] = true
	}
	return func(key string) bool {
		d, ok := a.Document(key)
		return ok && (len(about) == 0 || about[of(d.Name)])
	}
}
