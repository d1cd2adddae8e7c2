package answer

import (
	"slices"
	"strings"
	"testing"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/text"
	"jardinet/wording"
)

func TestSubjectOf(t *testing.T) {
	for question, want := range map[string]string{
		"What are trading accounts?":              "trade account",
		"What is the declination of a satellite?": "declin",
		"What does a staff red flag mean?":        "staff red flag",
		"What does the option of the driver do?":  "option",
		"What is drawn if nothing is said?":       "",
		"How many panes were broken?":             "",
		"Who owns the manual?":                    "",
	} {
		got := strings.Join(subjectOf(foldedQuestion(question), text.NewStemmer("en"), "en"), " ")
		if got != want {
			t.Errorf("%s is about %q, want %q", question, got, want)
		}
	}
}

func TestHasSubject(t *testing.T) {
	tests := []struct {
		question, sentence string
		want, defines      bool
	}{
		{"What are trading accounts?", "Trading accounts are specialized equity accounts.", true, false},
		{"What are trading accounts?", "In accounting terms, trading accounts are the equity accounts.", true, true},
		{"What are trading accounts?", "Click the box to enable trading accounts in the dialog.", false, false},
		{"What are trading accounts?", "Accounts are opened by the treasurer.", false, false},
		{"What is the declination of a satellite?", "The declination is the angle from the equator.", true, true},
		{"What is the declination of a satellite?", "Right ascension and declination locate a satellite.", false, false},
		{"What is a DRIP account?", "This type of account is often referred to as a DRIP Account.", true, true},
		{"What is a pilot?", "Pilot: somebody who rides with every train.", true, true},
		{"What is a pilot?", "The pilot is appointed by the manager.", true, false},
		{"What does the staff do?", "The staff shows that the section is free.", true, true},
		{"What does the staff do?", "The staff is kept at the station.", true, false},
		{"How many panes were broken?", "Panes are broken.", false, false},
	}
	for _, test := range tests {
		q := questionOf(test.question)
		q.subject = subjectOf(foldedQuestion(test.question), text.NewStemmer("en"), "en")
		if says, defines := newMatcher(q, nil).hasSubject(q.subject, test.sentence, "en"); says != test.want || defines != test.defines {
			t.Errorf("%s — %s: %v, defined %v", test.question, test.sentence, says, defines)
		}
	}
}

func TestWhatIsToldAndBounded(t *testing.T) {
	for sentence, want := range map[string]bool{
		"To open the window, click Reconcile.": true, "Press the red button.": true, "3. Put on the gloves.": true,
		"You can delete the file with the file manager.": true, "It is set in Actions → Reconcile.": true,
		"The window shows the balance.": false, "Gloves hang outside the door.": false,
	} {
		if got := instructs.MatchString(sentence); got != want {
			t.Errorf("%q instructs: %v", sentence, got)
		}
	}
	for sentence, want := range map[string]bool{
		"Nobody works more than 48 hours in a week.": true, "Passwords have at least 14 characters.": true, "Up to five days are carried over.": true,
		"The full week is 37.5 hours.": false, "The gate opens at nine.": false,
	} {
		if got := bounds.MatchString(sentence); got != want {
			t.Errorf("%q bounds: %v", sentence, got)
		}
	}
	for question, want := range map[string]bool{
		"how do i open the window": true, "what should i do after a spill": true, "which command lists principals": true,
		"how long is the line": false, "what is a lot": false,
	} {
		if got := howTo.MatchString(question); got != want {
			t.Errorf("%q asks how: %v", question, got)
		}
	}
}

func TestMeasured(t *testing.T) {
	tests := []struct {
		adjective, sentence string
		want                bool
	}{
		{"long", "The railway is 2.4 kilometres long.", true}, {"long", "Lighting up takes three hours.", true}, {"long", "The limit is 15 km/h.", false},
		{"heavy", "She weighs 8.2 tonnes.", true}, {"cold", "It fell to 6 °C.", true}, {"old", "Guards are at least of age 18.", true}, {"old", "The road is golden.", false},
	}
	for _, test := range tests {
		if got := measured[test.adjective].MatchString(test.sentence); got != test.want {
			t.Errorf("how %s — %s: %v", test.adjective, test.sentence, got)
		}
	}
}

func TestIsLabel(t *testing.T) {
	tests := []struct {
		s     string
		kind  layout.Kind
		words int
		want  bool
	}{
		{"For example:", layout.Paragraph, 1, true}, {"-R", layout.Paragraph, 1, true}, {"get_principal [-terse] principal", layout.Paragraph, 3, true},
		{"Reset the log.", layout.Paragraph, 2, false}, {"Dew House · 12", layout.Table, 3, false}, {"", layout.Paragraph, 0, false},
		{"this line of a paragraph goes on in the next one with many words", layout.Paragraph, 8, false},
	}
	for _, test := range tests {
		if got := isLabel(test.s, test.kind, test.words); got != test.want {
			t.Errorf("%q is a label: %v", test.s, got)
		}
	}
}

// paragraph makes a passage of sentences that stand in one paragraph.
func paragraph(sentences ...string) *passage.Passage {
	p := &passage.Passage{Language: "en"}
	for i, s := range sentences {
		if i > 0 {
			p.Text += " "
		}
		p.Sentences = append(p.Sentences, passage.Sentence{Start: len(p.Text), End: len(p.Text) + len(s), Kind: layout.Paragraph, First: i == 0})
		p.Text += s
	}
	return p
}

func TestLeaningSentencesBringTheOneBefore(t *testing.T) {
	p := paragraph("The old way was a whole tree.", "This was hard to keep.", "It is safe to go on.", "It needs a shell.", "Nothing leans here.")
	for i, want := range []string{"", "The old way was a whole tree.", "", "It is safe to go on.", ""} {
		s := p.Sentences[i]
		before, ok := leansOn(evidence{sentence: i, text: p.Text[s.Start:s.End]}, p)
		if ok != (want != "") || before.text != want {
			t.Errorf("%q leans on %q", p.Text[s.Start:s.End], before.text)
		}
	}
}

func TestLeadingSentencesBringTheNext(t *testing.T) {
	p := paragraph("The general form is this:", "name@host:port", "Keep it in mind.")
	p.Sentences[1].First = true
	q := questionOf("What is the general form of a name?")
	next, ok := following(q, newMatcher(q, nil), evidence{text: "The general form is this:"}, Candidate{Passage: p})
	if !ok || next.text != "name@host:port" {
		t.Errorf("after the colon comes %q", next.text)
	}
}

func TestCellsThatCount(t *testing.T) {
	stemmer := text.NewStemmer("en")
	for row, want := range map[string]bool{
		"Through stations and the loop · Limit km/h: 5": false, "Stations · 4": true, "Tansy · Stations: 4": true, "Stations passed · Limit km/h: 5": true,
	} {
		if got := counts(row, map[string]bool{stemmer.Stem("stations"): true}, stemmer); got != want {
			t.Errorf("%q counts stations: %v", row, got)
		}
	}
}

func TestNamedDocuments(t *testing.T) {
	q := questionOf("Which keys does the railway shed need?")
	m := newMatcher(q, nil)
	at := func(id, title string) Candidate {
		return Candidate{DocumentID: id, Document: Document{Title: title}, Passage: paragraph("x")}
	}
	got := m.named([]Candidate{at("a", "Railway rule book"), at("a", "Railway rule book"), at("b", "Shed keys"), at("c", "Keys of the vault"), at("d", "Keys")})
	words := []string{}
	for i, term := range m.terms {
		if got&(1<<i) != 0 {
			words = append(words, term.Word)
		}
	}
	if !slices.Equal(words, []string{"railway", "shed"}) {
		t.Errorf("%v name documents: keys stand in most titles", words)
	}
}

func TestLiteralsCountByHowRareTheyAre(t *testing.T) {
	q := questionOf("What does kadm5.acl of GnuCash say?")
	for i, term := range q.query.Terms {
		if term.Word == "gnucash" {
			q.query.Terms[i].IDF = 0.5
		}
	}
	m := newMatcher(q, &wording.Asked{Literals: []string{"kadm5.acl", "GnuCash"}})
	p := paragraph("The file kadm5.acl says it.", "GnuCash says nothing.")
	if rare, common := m.literals(p, 0, "", ""), m.literals(p, 1, "", ""); rare < 0.8 || common > rare {
		t.Errorf("the rare one is worth %.2f, the common one %.2f", rare, common)
	}
	if titled, bare := m.literals(p, 0, "", "GnuCash manual"), m.literals(paragraph("The file kadm5.acl says it."), 0, "", ""); titled <= bare {
		t.Errorf("with the title %.2f, without %.2f", titled, bare)
	}
}
