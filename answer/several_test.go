package answer

import (
	"slices"
	"strings"
	"testing"
)

func TestParts(t *testing.T) {
	tests := map[string][]string{
		"How long may seed stay out?": nil,
		"What is the default port of the KDC, and which privilege does list_principals require?": {"What is the default port of the KDC?", "Which privilege does list_principals require?"},
		"Which permission adds principals and which one lists them?":                             {"Which permission adds principals?", "Which one lists them?"},
		"Who signs? When does it open?":                                                          {"Who signs?", "When does it open?"},
		"How many accessions were held at the end of September and at the end of December 2025?": {"How many accessions were held at the end of September 2025?", "How many accessions were held at the end of December 2025?"},
		"How does the quarantine of cuttings differ between the 2021 and the 2024 edition?":      {"What is the quarantine of cuttings in 2021 edition?", "What is the quarantine of cuttings in 2024 edition?"},
		"What is the difference in night minimum between the Dew House and the Orchid House?":    {"What is night minimum in Dew House?", "What is night minimum in Orchid House?"},
		"Since the pool is open on Mondays, when does it close?":                                 {"the pool is open on Mondays", "When does it close?"},
		"Since January 2025, how many visitors came?":                                            nil,
		"What changed between 2021 and 2024?":                                                    nil,
		"Which plants and animals live in the pool?":                                             nil,
		"My disk has died. How do I let the stand-in take over?":                                 nil,
		"What happens in the store and in the vault when the alarm rings?":                       nil,
		"How many visitors came in 2024 and 2025?":                                               {"How many visitors came in 2024?", "How many visitors came in 2025?"},
		"Combien coûte un billet et où puis-je le prendre ?":                                     {"Combien coûte un billet?", "Où puis-je le prendre?"},
		"What do I do when the alarm rings and nobody is there?":                                 nil,
		"What do fault codes E2 and E5 mean?":                                                    {"What do fault codes E2 mean?", "What do fault codes E5 mean?"},
		"How fast may Tansy and Old Marchbank go?":                                               {"How fast may Tansy go?", "How fast may Old Marchbank go?"},
		"What do an adult and a child pay for a return ticket?":                                  {"What do an adult pay for a return ticket?", "What do a child pay for a return ticket?"},
		"How long are woody plants and soft plants kept?":                                        {"How long are woody plants kept?", "How long are soft plants kept?"},
		"What is the difference between red and green flags seen at night?":                      nil,
		"How long may paper and cards be left in the rain and the sun?":                          {"How long may paper be left in the rain and the sun?", "How long may cards be left in the rain and the sun?"},
		"Which product is used against slugs and which against mites?":                           {"Which product is used against slugs?", "Which product is used against mites?"},
		"What is the temperature and the humidity of the drying room?":                           {"What is the temperature of the drying room?", "What is the humidity of the drying room?"},
		"Who signs for £200 and who for £30,000?":                                                {"Who signs for £200?", "Who signs for £30,000?"},
		"Where is store C4 and what does it hold?":                                               {"Where is store C4?", "What does it hold?"},
		"When was Tansy built and how heavy is she?":                                             {"When was Tansy built?", "How heavy is she?"},
		"Who is the keeper of the store and since when?":                                         {"Who is the keeper of the store?", "Since when?"},
		"Which seeds cannot be dried and why?":                                                   {"Which seeds cannot be dried?", "Why?"},
		"How wide and how deep is the tank?":                                                     {"How wide is the tank?", "How deep is the tank?"},
		"How many panes and how many trees were lost in the storm?":                              {"How many panes were lost in the storm?", "How many trees were lost in the storm?"},
		"How long is quarantine for woody plants and for orchids in flask?":                      {"How long is quarantine for woody plants?", "How long is quarantine for orchids in flask?"},
		"How much is lunch and how much is dinner when I travel?":                                {"How much is lunch?", "How much is dinner when I travel?"},
		"Who checks the boiler and how often?":                                                   {"Who checks the boiler?", "How often?"},
		"What are the extensions of the officer and of the Head of Plant Health?":                {"What is the extensions of the officer?", "What is the extensions of the Head of Plant Health?"},
		"How wide and deep is the tank?":                                                         {"How wide is the tank?", "How deep is the tank?"},
		"What was the gas burnt in 2019 and in 2025, and what is the aim for 2030?":              {"What was the gas burnt in 2019?", "What was the gas burnt in 2025?", "What is the aim for 2030?"},
		"From which height and for how long may a ladder be used?":                               {"From which height may a ladder be used?", "For how long may a ladder be used?"},
		"How many days of quarantine do bulbs and orchids need?":                                 {"How many days of quarantine do bulbs need?", "How many days of quarantine do orchids need?"},
		"Who inspects the lift and how often, and who inspects the bridge?":                      {"Who inspects the lift?", "How often?", "Who inspects the bridge?"},
		"How many people may visit at once and on which day?":                                    {"How many people may visit at once?", "On which day?"},
		"How many trees have a plate and how many were lost?":                                    {"How many trees have a plate?", "How many trees were lost?"},
		"Which engine is the oldest and which is the fastest?":                                   {"Which engine is the oldest?", "Which engine is the fastest?"},
		"How many days does the policy of 2024 ask for and how many did that of 2021?":           {"How many days does the policy of 2024 ask for?", "How many days does the policy of 2021 ask for?"},
		"Who do I call about pests and who about glass?":                                         {"Who do I call about pests?", "Who do I call about glass?"},
		"How many tests were made in the first and in the second quarter?":                       {"How many tests were made in the first quarter?", "How many tests were made in the second quarter?"},
		"What is the limit for steam trains and on the crossing?":                                {"What is the limit for steam trains?", "What is the limit on the crossing?"},
		"What was the difference between what was paid and what was owed, and who paid?":         {"What was the difference between what was paid and what was owed?", "Who paid?"},
		"What do product 3 and product 8 fight?":                                                 {"What do product 3 fight?", "What do product 8 fight?"},
		"What are the heights of the Palm House and the Alpine House?":                           {"What is the height of the Palm House?", "What is the height of the Alpine House?"},
		"What is the difference between the 2021 and the 2024 policy for exceptions?":            {"Exceptions in the 2021 policy?", "Exceptions in the 2024 policy?"},
		"How many people does a coach seat and may anyone stand?":                                {"How many people does a coach seat?", "May anyone stand?"},
	}
	for question, want := range tests {
		if got := questionsOf(parts(question)); !slices.Equal(got, want) {
			t.Errorf("%q has the parts %q, want %q", question, got, want)
		}
	}
}

func TestSeveralQuestions(t *testing.T) {
	a := asker(t)
	got := ask(t, a, "How long may seed stay out of the cold store, and what is the night minimum in the Dew House?")
	if got.State != Answered || got.Short != "Four hours; 12 °C" || len(got.Parts) != 2 || len(got.Citations) != 2 {
		t.Errorf("both: %s, %q, %d parts, %q", got.State, got.Short, len(got.Parts), got.Text)
	}
	if cited := got.Statements[got.Parts[1].Statements[0]].Citations[0]; got.Citations[cited-1].Document != "house.pdf" {
		t.Errorf("the second part cites %s", got.Citations[cited-1].Document)
	}
	half := ask(t, a, "How long may seed stay out of the cold store, and what colour are the bicycles?")
	if half.State != Partial || half.Parts[1].State != NotFound || !strings.Contains(half.Text, "do not say: What colour are the bicycles?") || !strings.Contains(half.Text, "four hours") {
		t.Errorf("half: %s, %q", half.State, half.Text)
	}
	if none := ask(t, a, "What do bicycles cost, and who rides them?"); none.State != NotFound || len(none.Parts) != 0 {
		t.Errorf("none: %s, %q", none.State, none.Text)
	}
}

func TestPremises(t *testing.T) {
	a := asker(t)
	denied := ask(t, a, "Since dogs are allowed in the glasshouse, how long may seed stay out of the cold store?")
	if !strings.Contains(denied.Text, "do not say that dogs are allowed in the glasshouse") || !strings.Contains(denied.Text, "four hours") {
		t.Errorf("a premise that nothing bears out: %q", denied.Text)
	}
	open := ask(t, a, "Since dogs are allowed in the glasshouse, what do bicycles cost?")
	if open.State != NotFound || !strings.Contains(open.Text, "do not say that dogs are allowed in the glasshouse") || !strings.Contains(open.Text, "do not say: What do bicycles cost?") {
		t.Errorf("nothing borne out: %s, %q", open.State, open.Text)
	}
	leans := ask(t, a, "Since dogs are allowed in the glasshouse, how long may they stay out of the cold store?")
	if leans.State != NotFound || len(leans.Statements) != 0 || len(leans.Parts) != 2 || !strings.Contains(leans.Text, "do not say that dogs are allowed in the glasshouse") {
		t.Errorf("what leans on a premise that nothing bears out: %s, %q", leans.State, leans.Text)
	}
	holds := ask(t, a, "Since dogs are allowed on the lawn, how long may seed stay out of the cold store?")
	if strings.Contains(holds.Text, "do not say") || holds.Short != "Four hours" || holds.Parts != nil {
		t.Errorf("a premise that holds: %q, %+v", holds.Text, holds.Parts)
	}
}

func TestTwoThingsAreAskedForOneByOne(t *testing.T) {
	for question, want := range map[string][]string{
		"What are the interest and the principal of the second payment?": {"What is the interest of the second payment?", "What is the principal of the second payment?"},
		"What were the highest gust and the lowest temperature?":         {"What was the highest gust?", "What was the lowest temperature?"},
		"What are the steps and the order of the examination?":           nil,
		"What are the differences between the house and the garden?":     nil,
		"What are the house rules?":                                      nil,
	} {
		var got []string
		for _, p := range thingsOf(strings.TrimRight(question, "?")) {
			got = append(got, p.Question)
		}
		if !slices.Equal(got, want) {
			t.Errorf("%s is asked as %q", question, got)
		}
	}
}
