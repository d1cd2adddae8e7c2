package shelf

import (
	"fmt"
	"testing"

	"jardinet/answer"
	"jardinet/measure"
)

func TestAmong(t *testing.T) {
	a := &answer.Answerer{Document: func(key string) (answer.Document, bool) { return answer.Document{Name: key}, key != "gone" }}
	q := &measure.Question{Evidence: []measure.Evidence{{Document: "manual-7.pdf", Page: 1}}}
	beside := 0
	for i := range 120 {
		if Among(a, q)(fmt.Sprintf("manual-%d.pdf", i)) {
			beside++
		}
	}
	if !Among(a, q)("manual-7.pdf") || beside < 3 || beside > 30 {
		t.Errorf("of 120 documents %d share its shelf", beside)
	}
	if Among(a, q)("gone") {
		t.Error("a document that is gone is on a shelf")
	}
	if !Among(a, &measure.Question{})("manual-1.pdf") {
		t.Error("a question about no document is not asked of all")
	}
}
