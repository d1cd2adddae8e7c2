package draft

import "testing"

func TestFronted(t *testing.T) {
	for sentence, want := range map[string]string{
		"Mail is kept for two years and then deleted.":            "For how long is mail kept?",
		"The full week is 37 hours.":                              "How long is the full week?",
		"You may appeal within ten days.":                         "Within how long may you appeal?",
		"The lift is inspected every 6 months by an examiner.":    "How often is the lift inspected by an examiner?",
		"Drivers are at least 21 years old.":                      "How old are drivers?",
		"Seed may stay out for no longer than four hours in all.": "For how long may seed stay out in all?",
		"Staff who leave early are paid for 3 hours.":             "Staff who leave early are paid for how long?",
		"For the trains the speed is 8 km/h everywhere.":          "",
		"Tansy is charged for 9 hours.":                           "For how long is Tansy charged?",
	} {
		common := func(w string) bool { return w == "mail" || w == "the" || w == "you" || w == "drivers" || w == "seed" }
		if got, _, _ := quantity(sentence, "en", common); got != want {
			t.Errorf("%q asks %q, want %q", sentence, got, want)
		}
	}
}
