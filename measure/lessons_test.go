package measure

import (
	"strings"
	"testing"

	"jardinet/answer"
	"jardinet/index"
	"jardinet/layout"
	"jardinet/passage"
	ranking "jardinet/rank"
)

// vault answers from two sentences of one document.
func vault(t *testing.T) *answer.Answerer {
	t.Helper()
	x, err := index.Open(t.TempDir(), index.Space{})
	if err != nil {
		t.Fatal(err)
	}
	p := &passage.Passage{Section: []string{"9 Records"}, Language: "en", Text: "Cards are kept for ever. The generator is tested on Wednesdays."}
	for _, at := range [][2]int{{0, 24}, {25, len(p.Text)}} {
		p.Sentences = append(p.Sentences, passage.Sentence{Start: at[0], End: at[1], Kind: layout.Paragraph, Marks: []passage.Mark{{Page: 4}}})
	}
	stored, err := passage.Encode(p)
	if err != nil {
		t.Fatal(err)
	}
	if err := x.Apply([]index.Document{{Key: "id", Passages: []index.Passage{{Heading: "9 Records", Body: p.Text, Language: "en", Stored: stored}}}}, nil); err != nil {
		t.Fatal(err)
	}
	return &answer.Answerer{Index: x, Rank: ranking.New(), Document: func(key string) (answer.Document, bool) {
		return answer.Document{Name: "vault.pdf", Title: "Vault"}, key == "id"
	}}
}

// shown is a question with a quotation on a page.
func shown(question, document string, page int, quote string) Question {
	return Question{ID: question, Question: question, Evidence: []Evidence{{Document: document, Page: page, Quote: quote}}, Accept: []string{"for ever"}}
}

func TestLessonsOfQuestions(t *testing.T) {
	no := false
	questions := []Question{
		shown("When may I bin the cards?", "vault.pdf", 4, "kept for ever"),
		{ID: "both", Question: "Cards and power?", Evidence: []Evidence{{All: []Evidence{{Document: "vault.pdf", Page: 4, Quote: "kept for ever"}, {Document: "vault.pdf", Page: 4, Quote: "tested on Wednesdays"}}}}},
		shown("On another page?", "vault.pdf", 5, "kept for ever"),
		shown("In another document?", "house.pdf", 4, "kept for ever"),
		shown("Without a quotation?", "vault.pdf", 4, ""),
		{ID: "none", Question: "Is there a pool?", Answerable: &no},
	}
	lessons, problems, err := Lessons(vault(t), questions)
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []string{"", "", "does not stand on page 5", "house.pdf is not there", "no quotation", "no evidence"} {
		switch {
		case want == "" && (problems[i] != nil || lessons[i].Question != questions[i].Question):
			t.Errorf("%s: %v", questions[i].ID, problems[i])
		case want != "" && (problems[i] == nil || !strings.Contains(problems[i].Error(), want)):
			t.Errorf("%s: the problem is %v, want one that says %q", questions[i].ID, problems[i], want)
		}
	}
	if len(lessons[0].At) != 1 || len(lessons[1].At) != 2 || lessons[1].At[1].Sentence != 1 {
		t.Errorf("the places are %v and %v", lessons[0].At, lessons[1].At)
	}
}

// TestWhatWasTaughtIsAskedUntaught measures a question that was taught in the same
// words, and one that means the same in other words.
func TestWhatWasTaughtIsAskedUntaught(t *testing.T) {
	a := vault(t)
	const question = "How soon are small tickets thrown into the rubbish?"
	lessons, _, err := Lessons(a, []Question{shown(question, "vault.pdf", 4, "kept for ever")})
	if err != nil {
		t.Fatal(err)
	}
	if a.Lessons, err = a.Learn(t.Context(), lessons, nil); err != nil {
		t.Fatal(err)
	}
	set := &Set{Questions: []Question{
		shown("Small tickets: how soon are they thrown into the rubbish?", "vault.pdf", 4, ""),
		shown("How soon are small tickets thrown away into the rubbish?", "vault.pdf", 4, ""),
	}}
	m, err := (&Run{Answerer: a, Set: set}).Measure(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if m.Records[0].Outcome != Refused || m.Records[1].Outcome != Right {
		t.Errorf("the outcomes are %s and %s", m.Records[0].Outcome, m.Records[1].Outcome)
	}
	if a.Lessons == nil {
		t.Error("the answerer has lost its lessons")
	}
}

func TestSubstance(t *testing.T) {
	if a, b := Substance("How soon are the cards thrown away?"), Substance("Are cards thrown away soon?"); a != b {
		t.Errorf("%s and %s", a, b)
	}
	if Substance("Who keeps store C1?") == Substance("Who keeps store C2?") {
		t.Error("two stores are one")
	}
}
