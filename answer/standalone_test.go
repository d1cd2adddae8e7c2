package answer

import "testing"

func TestFollowUpsAreWrittenOut(t *testing.T) {
	a := asker(t)
	for _, test := range []struct {
		want string
		said []string // the last is asked
	}{
		{"What does the fault code E2 mean?", []string{"What does the fault code E4 mean?", "And E2?"}},
		{"Who is product 13 for?", []string{"Who is product 7 for?", "And product 13?"}},
		{"What is the extension of Carys Whitlock?", []string{"Who is Carys Whitlock?", "What is her extension?"}},
		{"Who keeps store C3?", []string{"Where is store C3?", "What does it hold?", "Who keeps it?"}},
		{"How high is the Dew House?", []string{"How is the Dew House watered?", "How many visitors may go in?", "And how high is it?"}},
		{"By whom was the Trust founded?", []string{"When was the Trust founded?", "By whom?"}},
		{"How long are herbaceous plants kept in quarantine?", []string{"How long are woody plants kept in quarantine?", "And herbaceous ones?"}},
		{"How long are cuttings kept in quarantine?", []string{"How long are woody plants kept in quarantine?", "What about cuttings?"}},
		{"How many coaches can Tansy pull?", []string{"How much does Old Marchbank weigh?", "How many coaches can she pull?", "And Tansy?"}},
		{"How many people may be in the Alpine House?", []string{"How many people may be in the Palm House?", "And in the Alpine House?"}},
		{"May I bring my dog on the train?", []string{"May I bring my dog?", "And into the restaurant?", "And on the train?"}},
		{"What does a return ticket cost for an adult?", []string{"What does a single ticket cost for an adult?", "And return?"}},
		{"What happened to P012?", []string{"How tall is P012?", "When was it planted?", "What happened to it?"}},
		{"How long is the railway?", []string{"What is the gauge of the railway?", "How long is it?"}},
		{"How many visitors came in 2024?", []string{"How many visitors came in 2025?", "And in 2024?"}},
		{"Who is the treasurer?", []string{"Who is the finance director?", "And the treasurer?"}},
		{"What is the temperature in the Palm House?", []string{"What is the humidity in the Palm House?", "And the temperature?"}},
		{"Which houses are open?", []string{"Which houses are open?"}},
		{"How long may I stay in the cold store?", []string{"How cold is the cold store?", "How long may I stay there?"}},
	} {
		last := len(test.said) - 1
		got, _ := a.writtenOut(test.said[last], test.said[:last])
		if got == "" {
			got = test.said[last]
		}
		if got != test.want {
			t.Errorf("%q: %q, want %q", test.said, got, test.want)
		}
	}
}
