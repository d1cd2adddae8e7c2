package answer

import "testing"

// What a question asks for by name is told by its form.
func TestValuesAreToldByTheirForm(t *testing.T) {
	for _, test := range []struct {
		question, yes, no string
	}{
		{"At what time does the gate open?", "It opens at 9:00.", "It was founded on 2 July 2001."},
		{"What time is the last train?", "The last train leaves at noon.", "A seat costs £3.50."},
		{"À quelle heure ouvrent les serres ?", "Les serres ouvrent à 10 heures.", "Il est fermé le 25 décembre."},
		{"When did the line reopen?", "It reopened on 11 April 2025.", "It is expected to reopen in April."},
		{"When was the generator started?", "01:05 · Event: Generator starts", "It started after the storm."},
		{"In which year was it built?", "Bryony · Built: 1967", "It was built in May."},
		{"Which month is best?", "In June it blooms.", "It blooms on Sunday."},
		{"What colour is the board?", "A red board stands there.", "The board stands there."},
		{"What is the telephone number of the gate?", "Call extension 204.", "Call the gate."},
		{"Which e-mail address do I write to?", "Write to seeds@halvern.example.", "Write to the vault."},
		{"What is the box made of?", "The box is of oak and brass.", "The box is two metres long."},
		{"What is the web address of the shop?", "See www.halvern.example/shop.", "See the shop."},
	} {
		pattern := valueOf(foldedQuestion(test.question))
		if pattern == nil {
			t.Errorf("%s asks for no form", test.question)
			continue
		}
		if !pattern.MatchString(test.yes) || pattern.MatchString(test.no) {
			t.Errorf("%s: %q fits %v, %q fits %v", test.question, test.yes, pattern.MatchString(test.yes), test.no, pattern.MatchString(test.no))
		}
	}
	for _, open := range []string{"When does the season begin?", "How many times may I try?", "What does the board say?", "Who answers the telephone?"} {
		if pattern := valueOf(foldedQuestion(open)); pattern != nil {
			t.Errorf("%s asks for %s", open, pattern)
		}
	}
}

// What a quantity is wanted in is told by the words around "how".
func TestDimensions(t *testing.T) {
	for _, test := range []struct {
		question, yes, no string
	}{
		{"How far ahead do classes book?", "They book ten working days ahead.", "It lies 40 metres away."},
		{"How far is the gate?", "It lies 40 metres away.", "They book ten working days ahead."},
		{"How loud is the alarm of the store?", "The alarm has 80 dB.", "Store · Alarm: above 18 °C"},
		{"At what temperature does the alarm of the store ring?", "Store · Alarm: above 18 °C", "The alarm has 80 dB."},
		{"How old is the engine?", "Bryony · Built: 1967", "Graham Pellow · Since: 2014"},
		{"How old must a driver be?", "Drivers are at least 21 years old.", "Drivers wear boots."},
		{"How much does the room measure?", "It measures 9 by 6 metres.", "It has four rooms."},
		{"What proportion of seed is full?", "The aim is 95 per cent.", "It takes three weeks."},
		{"How much does a packet of seed cost?", "Seed is not sold.", "It weighs four grams."},
		{"How cold does the lake get?", "It falls to 4 °C.", "Dry plants stand four degrees more of cold."},
		{"How long was the line closed?", "It was closed for six weeks.", "90 metres of ballast were washed out."},
		{"What is the rent of a cottage?", "The rent is £400.", "Six cottages are let."},
		{"How much is the discount?", "There are 20 per cent off in the shop.", "The car park has 340 spaces."},
	} {
		units, _ := dimensionOf(foldedQuestion(test.question))
		if units == nil {
			t.Errorf("%s wants any number", test.question)
			continue
		}
		if !measures(test.yes, units) || measures(test.no, units) {
			t.Errorf("%s: %q fits %v, %q fits %v", test.question, test.yes, measures(test.yes, units), test.no, measures(test.no, units))
		}
	}
}

func TestASalaryNeedsToBeCalledOne(t *testing.T) {
	q := questionOf("What is the salary of the Director?")
	if q.want != wantQuantity || q.named == nil || q.named.MatchString("up to £25,000: head of department and Finance Director") || !q.named.MatchString("The Director is paid £61,000.") {
		t.Errorf("it wants %d, named %v", q.want, q.named)
	}
}

func TestLeaveAndRules(t *testing.T) {
	for question, want := range map[string]bool{
		"may i take cuttings home": true, "am i allowed to smoke": true, "can visitors bring dogs": true, "do i have to pay": true,
		"where can i buy a ticket": true, "what is the set point": false, "who holds the keys": false,
	} {
		if got := asksLeave.MatchString(question); got != want {
			t.Errorf("%q asks for leave: %v", question, got)
		}
	}
	for sentence, want := range map[string]bool{
		"Cuttings are never taken home.": true, "Staff and two guests enter free.": true, "Only the Director speaks to newspapers.": true,
		"The line is 2.4 kilometres long.": false,
	} {
		if got := rules.MatchString(sentence); got != want {
			t.Errorf("%q is a rule: %v", sentence, got)
		}
	}
}

// A date beside what only says when something happened is not the one asked for.
func TestCircumstances(t *testing.T) {
	const sentence = "It was rebuilt after the storm of January 2025 and reopened on 11 April 2025."
	for question, want := range map[string]string{
		"When did the railway reopen after the storm?":        "11 April 2025",
		"When was the storm?":                                 "January 2025",
		"When was the storm after which the line was closed?": "January 2025",
	} {
		q := questionOf(question)
		q.want = wantDate
		if got := short(q, newMatcher(q, nil), sentence, "en"); got != want {
			t.Errorf("%s %q, want %q", question, got, want)
		}
	}
}

func TestWhatIsMeasuredInItsOwnUnits(t *testing.T) {
	checkFits(t, []fit{
		{"How old is the oldest palm?", "The oldest palm is 140 years old.", "The oldest palm is 21 metres high."},
		{"How old must a guard be?", "Guards are at least 18.", "Guards stand 3 metres from the track."},
		{"How old is the engine?", "Engine · Kind: steam · Built: 1911", "Engine · Kind: steam · Weight t: 8.2"},
		{"How loud is the alarm?", "The alarm gives 90 dB.", "The alarm rings above −16 °C."},
		{"How dim are the lights?", "The lights are dimmed to 50 lux.", "The lights are dimmed at 17:00."},
		{"How steep is the line?", "The steepest gradient is 1 in 52.", "The line is 2.4 kilometres long."},
		{"How humid is the room?", "The room is kept at 15 per cent.", "The room is kept at 15 °C."},
	})
}
