package answer

import (
	"testing"

	"jardinet/layout"
	"jardinet/passage"
)

// items makes the sentences from a number on items of a list.
func items(p *passage.Passage, from int) *passage.Passage {
	for i := from; i < len(p.Sentences); i++ {
		p.Sentences[i].Kind = layout.ListItem
	}
	return p
}

func TestStepsFollowTheSentenceThatLeadsToThem(t *testing.T) {
	p := items(paragraph("In a gale the vents are closed.", "Nobody stays inside.", "1. Close the vents.", "2. Clear the paths."), 2)
	q := questionOf("What must I do in a gale?")
	best := evidence{sentence: 0, text: "In a gale the vents are closed.", score: 5}
	got := choose(q, newMatcher(q, nil), []evidence{best}, []Candidate{{Passage: p}}, maxStatements)
	if len(got) != 3 || got[0].sentence != 0 || got[1].sentence != 2 || got[2].sentence != 3 {
		t.Errorf("said is %+v", got)
	}
	table := items(paragraph("In a gale the vents are closed.", "a · b", "1. Close the vents.", "2. Clear the paths."), 2)
	table.Sentences[1].Kind, table.Sentences[1].First = layout.Table, true
	if got := choose(q, newMatcher(q, nil), []evidence{best}, []Candidate{{Passage: table}}, maxStatements); len(got) != 1 {
		t.Errorf("behind a table stands %+v", got[1:])
	}
}

func TestTornBetweenTwo(t *testing.T) {
	q := questionOf("How long may it stay out?")
	m := newMatcher(q, nil)
	candidates := []Candidate{{Passage: paragraph("It may stay out four hours.")}, {Passage: paragraph("It may stay out ten hours.")}}
	best := evidence{candidate: 0, score: 5, fits: true, text: "It may stay out four hours."}
	other := evidence{candidate: 1, score: 4.9, fits: true, text: "It may stay out ten hours."}
	if !torn(q, m, "Four hours", best, []evidence{best, other}, candidates) {
		t.Error("two figures as likely as each other leave it torn no way")
	}
	other.score = 3
	if torn(q, m, "Four hours", best, []evidence{best, other}, candidates) {
		t.Error("torn by what is far less likely")
	}
	same := evidence{candidate: 1, score: 4.9, fits: true, text: "It may be out for four hours."}
	if torn(q, m, "four hours", best, []evidence{best, same}, candidates) {
		t.Error("torn by what says the same")
	}
}

func TestAffirmingTakesMostOfWhatWasAsked(t *testing.T) {
	if affirms(&evidence{features: Features{Inside: 0.5, Covered: 0.3}}) {
		t.Error("half of the question affirms it")
	}
	if !affirms(&evidence{features: Features{Inside: 0.3, Like: 0.3, Covered: 0.8}}) {
		t.Error("nearly all of the question does not affirm it")
	}
}

func TestTheSameShortAnswerAgrees(t *testing.T) {
	a := evidence{text: "Staff have 27 days of leave.", said: "27 days"}
	b := evidence{text: "You have 27 days besides the public holidays, and 30 days after ten years.", said: "27 Days"}
	c := evidence{text: "Carers may take five days a year with pay.", said: "five days"}
	if !agrees(&a, &b) || agrees(&a, &c) || agrees(&evidence{text: "Dogs ride."}, &evidence{text: "Trains run daily."}) {
		t.Error("agreement is told wrong")
	}
	s := signals([]evidence{{candidate: 0, score: 5, text: a.text, said: a.said}, {candidate: 1, score: 5, text: b.text, said: b.said}, {candidate: 2, score: 5, text: c.text, said: c.said}})
	if s.Here < 0.66 || s.Here > 0.67 {
		t.Errorf("two of three say the same: %.3f", s.Here)
	}
}

func TestATableOfContentsAnswersNothing(t *testing.T) {
	contents := paragraph("About · iii", "1 Hours · 1", "1.1 The week · 1", "2 Leave · 3", "3 Pay ..... 7", "6 Leaving 11")
	if !isContents(contents) {
		t.Error("a table of contents is taken for text")
	}
	for _, p := range []*passage.Passage{
		paragraph("Palm House · Visitors at once: 120", "Dew House · Visitors at once: 6", "Arid House · Visitors at once: 50", "Alpine House · Visitors at once: 20", "Orchid House · Visitors at once: 35"),
		paragraph("Palm House · 120", "Dew House · 6", "Arid House · 50", "Alpine House · 20", "Orchid House · 35"),
		paragraph("It was built in 1911", "It opened in 1912"),
	} {
		if isContents(p) {
			t.Errorf("%q is taken for a table of contents", p.Text)
		}
	}
}

func TestFaintLikenessIsNoAnswer(t *testing.T) {
	q := questionOf("How long may seed stay out of the cold store?")
	c := []Candidate{{Passage: paragraph("Mail is kept for two years.")}}
	say := func(named, measured uint64) float64 {
		var out Answer
		m := newMatcher(q, nil)
		m.measured = measured
		e := evidence{text: "Mail is kept for two years.", coverage: 0.33, named: named, score: 13, fits: true, features: Features{Like: 0.3, Fits: 1}}
		compose(&out, q, m, []evidence{e}, c, 1)
		return out.Confidence
	}
	if faint, plain := say(0, 0), say(1, 0); faint > plain*0.51 {
		t.Errorf("sharing no word it is sure by %.3f, else by %.3f", faint, plain)
	}
	if figure, plain := say(1, 1), say(1, 0); figure > plain*0.51 {
		t.Errorf("sharing only that it is a figure it is sure by %.3f, else by %.3f", figure, plain)
	}
}

// TestWhatASentenceLeansOn has a sentence that speaks of "it" after one that says what, and
// after one that says "its" itself.
func TestWhatASentenceLeansOn(t *testing.T) {
	p := paragraph("The Palm House is the largest.", "Its soil makes it slow.", "It was built in 1898.")
	p.Sentences[1].First, p.Sentences[2].First = false, false
	for at, want := range map[int]string{0: "", 1: "The Palm House is the largest.", 2: ""} {
		s := p.Sentences[at]
		before, _ := leansOn(evidence{sentence: at, text: p.Text[s.Start:s.End]}, p)
		if before.text != want {
			t.Errorf("sentence %d leans on %q, want %q", at, before.text, want)
		}
	}
}
