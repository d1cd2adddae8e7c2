package answer

import (
	"regexp"
	"slices"
	"strings"
	"testing"
)

// plainly is measures with the whole sentence searched for the whole pattern.
func plainly(s string, units *regexp.Regexp) bool {
	if units != nil {
		return slices.ContainsFunc(units.FindAllStringIndex(s, -1), func(at []int) bool {
			return !recurring.MatchString(s[:at[0]]) && !difference.MatchString(s[at[1]-1:])
		}) || inColumn(s, units)
	}
	return slices.ContainsFunc(quantity.FindAllStringIndex(s, -1), func(span []int) bool { return isAmount(s, span[0], span[1]) })
}

func TestNumbersAreFoundAsByAWholeSearch(t *testing.T) {
	t.Parallel()
	sentences := []string{
		"", "5", "Nobody is there.", "The full week is 37.5 hours.", "every 12 hours", "Every two hours and for 3 minutes.", "It is kept for ever.",
		"At 20 per cent charge she goes back; at 10 per cent to 5 km/h.", "£8.00 for everyone over three years", "Weight t: 7.5", "1. Close the vents.", "see section 4", "in 1911",
		"half an hour", "Halves of 3.1 × 10⁴ m²", "C5 is kept below 25 °C", "10-minute", "−20 °C", "between –3 and 5 degrees", "tenth", "one in three", "1 in 52", "twice a year", "x10m", "1,200 m²·", "dix jours", "built in 1898, 21 metres", "E", "£", "12", "3 ",
	}
	patterns := []*regexp.Regexp{nil}
	for _, d := range dimensions {
		patterns = append(patterns, d.units)
	}
	for _, units := range patterns {
		for _, s := range append(sentences, strings.Join(sentences, " ")) {
			if got, want := measures(s, units), plainly(s, units); got != want {
				t.Errorf("%q by %v: %v, want %v", s, units, got, want)
			}
		}
	}
}
