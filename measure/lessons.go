package measure

import (
	"fmt"
	"slices"
	"strings"
	"sync"

	"jardinet/answer"
	"jardinet/text"
)

// Lessons makes lessons of questions with quotations of their evidence, and tells of
// each question, in the same order, why it cannot be one now; nil for those that can.
func Lessons(answerer *answer.Answerer, questions []Question) ([]answer.Lesson, []error, error) {
	keys := keysOf(answerer.Index, answerer.Document)
	// Each document is gone through once for all questions.
	type asked struct{ question, quotation int }
	quotations, askedBy := map[string][]answer.Quotation{}, map[string][]asked{}
	for i, q := range questions {
		for n, e := range q.Places() {
			if e.Quote != "" {
				quotations[e.Document] = append(quotations[e.Document], answer.Quotation{Page: e.Page, Text: e.Quote})
				askedBy[e.Document] = append(askedBy[e.Document], asked{i, n})
			}
		}
	}
	at := make([][]answer.Place, len(questions))
	for document, all := range quotations {
		if keys[document] == "" {
			continue
		}
		found, err := answer.Locate(answerer.Index, keys[document], all)
		if err != nil {
			return nil, nil, fmt.Errorf("measure: %s: %w", document, err)
		}
		for i, places := range found {
			q := askedBy[document][i].question
			at[q] = append(at[q], places...)
		}
	}
	lessons := make([]answer.Lesson, len(questions))
	problems := make([]error, len(questions))
	for i, q := range questions {
		lessons[i] = answer.Lesson{Question: q.Question, After: q.After, At: at[i]}
		if len(at[i]) == 0 {
			problems[i] = unlearnable(&q, keys)
		}
	}
	return lessons, problems, nil
}

// unlearnable says why nothing that proves a question's answer was found.
func unlearnable(q *Question, keys map[string]string) error {
	places := q.Places()
	switch missing := slices.IndexFunc(places, func(e Evidence) bool { return keys[e.Document] == "" }); {
	case !q.CanBeAnswered(), len(places) == 0:
		return fmt.Errorf("it has no evidence; a lesson needs a document, a page and a quotation")
	case missing >= 0:
		return fmt.Errorf("the document %s is not there", places[missing].Document)
	case !slices.ContainsFunc(places, func(e Evidence) bool { return e.Quote != "" }):
		return fmt.Errorf("its evidence has no quotation: say by \"quote\" which words of page %d prove it", places[0].Page)
	}
	return fmt.Errorf("%q does not stand on page %d of %s", places[0].Quote, places[0].Page, places[0].Document)
}

// Untaught returns what gives, for each question, the answerer without lessons in the same
// words: that what was shown is known again proves nothing.
func Untaught(answerer *answer.Answerer) func(q *Question) *answer.Answerer {
	var mu sync.Mutex
	substances := map[string]string{} // of the lessons' questions
	return func(q *Question) *answer.Answerer {
		out, same := *answerer, Substance(q.Question)
		mu.Lock()
		defer mu.Unlock()
		out.Lessons = answerer.Lessons.Without(func(l answer.Lesson) bool {
			if _, ok := substances[l.Question]; !ok {
				substances[l.Question] = Substance(l.Question)
			}
			return substances[l.Question] == same
		})
		return &out
	}
}

// Substance is the stems of a question's words that are not mere grammar, in order of
// the alphabet, for telling whether two questions are the same.
func Substance(question string) string {
	out := text.NewStemmer(text.Detect(question, text.English)).Content(question)
	slices.Sort(out)
	return strings.Join(slices.Compact(out), " ")
}
