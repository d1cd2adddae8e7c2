package measure

import (
	"context"
	"fmt"
	"testing"

	"jardinet/answer"
)

// TestCauses follows questions about the vault's two sentences. What was given is made up, so
// that each way of losing a question is gone.
func TestCauses(t *testing.T) {
	a := vault(t)
	pages := map[string]string{
		"vault.pdf 4": "Cards are kept for ever. The generator is tested on Wednesdays.",
		"vault.pdf 5": "Mice are let go in the orchard.",
		"vault.pdf 6": "",
		"house.pdf 1": "Cards are kept for a year.",
	}
	read := func(_ context.Context, document string, page int) (string, error) {
		if s, ok := pages[fmt.Sprint(document, " ", page)]; ok {
			return s, nil
		}
		return "", ErrNoPage
	}
	found, err := a.Find(t.Context(), "cards", 5)
	if err != nil || len(found.Candidates) != 1 {
		t.Fatalf("found %+v, error %v", found, err)
	}
	passages := found.Candidates
	says := func(short string, statements ...string) answer.Answer {
		out := answer.Answer{State: answer.Answered, Short: short, Passages: passages, Standalone: "How long are cards kept?"}
		for _, s := range statements {
			out.Statements = append(out.Statements, answer.Statement{Text: s})
		}
		return out
	}
	citing := func(a answer.Answer, quote string) answer.Answer {
		a.Citations = []answer.Citation{{Document: "house.pdf", Quote: quote}}
		return a
	}
	refused := answer.Answer{State: answer.NotFound, Passages: passages, Standalone: "How long are cards kept?"}
	unread := answer.Answer{State: answer.NotFound, Standalone: "How long are cards kept?"}
	elsewhere := answer.Answer{State: answer.NotFound, Standalone: "orchard"}
	q := func(page int, quote string) Question {
		return shown("How long are cards kept?", "vault.pdf", page, quote)
	}
	no := false
	for _, test := range []struct {
		name  string
		q     Question
		given answer.Answer
		want  Cause
	}{
		{"the page is gone", q(9, ""), refused, StaleEvidence},
		{"the document is not in the index", shown("How long?", "house.pdf", 1, "kept for a year"), refused, StaleEvidence},
		{"the words were not read", Question{ID: "x", Question: "?", Accept: []string{"a decade"}, Evidence: []Evidence{{Document: "vault.pdf", Page: 4, Quote: "kept for a decade"}}}, refused, NotRead},
		{"nothing was read", q(6, ""), refused, NotRead},
		{"no passage has the words", q(5, "let go in the orchard"), refused, CutApart},
		{"retrieval has it, nobody read it", q(4, "kept for ever"), unread, RankedLow},
		{"retrieval does not have it", q(4, "kept for ever"), elsewhere, NotRetrieved},
		{"another sentence was shown", q(4, "kept for ever"), says("on Wednesdays", "The generator is tested on Wednesdays."), PassedOver},
		{"the wrong words of it", q(4, "kept for ever"), says("Cards", "Cards are kept for ever."), WrongSpan},
		{"not sure enough", q(4, "kept for ever"), refused, WronglyRefused},
		{"right, and cited is what does not say it", q(4, "kept for ever"), says("for ever", "Cards are kept for ever."), WrongCitation},
		{"right by another page", q(4, "kept for ever"), citing(says("for ever", "Cards are kept for ever."), "Cards are kept for ever."), OtherEvidence},
		{"invented", Question{ID: "x", Question: "Is there a pool?", Answerable: &no}, says("yes"), ShouldRefuse},
		{"rightly refused", Question{ID: "x", Question: "Is there a pool?", Answerable: &no}, refused, ""},
		{"of two places the one that came furthest", Question{ID: "x", Question: "?", Accept: []string{"for ever"},
			Evidence: []Evidence{{Document: "vault.pdf", Page: 9}, {Document: "vault.pdf", Page: 4, Quote: "kept for ever"}}}, refused, WronglyRefused},
		{"of two needed together the one that came least far", Question{ID: "x", Question: "?", Accept: []string{"for ever"},
			Evidence: []Evidence{{All: []Evidence{{Document: "vault.pdf", Page: 9}, {Document: "vault.pdf", Page: 4, Quote: "kept for ever"}}}}}, refused, StaleEvidence},
	} {
		r := judge(&test.q, &test.given)
		d := diagnosis{answerer: a, read: read, keys: keysOf(a.Index, a.Document), q: &test.q, given: &test.given}
		if got, err := d.cause(t.Context(), &r); err != nil || got != test.want {
			t.Errorf("%s: %q, error %v; want %q", test.name, got, err, test.want)
		}
	}
}
