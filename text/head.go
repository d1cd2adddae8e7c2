package text

import (
	"cmp"
	"regexp"
	"strings"
)

// headUnit is a unit at the end of a column's head: "Temperature °C", "Weight (kg)", "Visitors, in thousands".
var headUnit = regexp.MustCompile(`^(.*\pL.*?)[\s,]*(?:\(([^()]{1,12})\)|\bin ([\pL%°/²³]{1,12})|\s([%°€£$]\S{0,3}|\S*[²³]))$`)

// HeadUnit parts the unit that the head of a column or row names off it: "Temperature °C", "Weight
// (kg)", "Re-entry hours". The unit is empty if it names none.
func HeadUnit(head string) (of, unit string) {
	if m := headUnit.FindStringSubmatch(head); m != nil {
		return m[1], cmp.Or(m[2], m[3], m[4])
	}
	words := strings.Fields(head)
	if len(words) == 0 {
		return head, ""
	}
	last := words[len(words)-1]
	switch {
	case len(words) > 1 && IsUnit(last):
		return strings.Join(words[:len(words)-1], " "), last
	case len(words) > 1 && IsUnit(strings.ToLower(words[0])):
		return head, strings.ToLower(words[0])
	}
	return head, ""
}
