package answer

import (
	"regexp"
	"strings"
)

// "Which is larger, the Palm House or the Dew House?" is answered by how large each of
// them is, and by which of the two figures is the greater.

// A contest is a question that sets one thing against another.
type contest struct {
	sides   [2]string // the things
	ask     string    // what is asked of each, with %s for it
	greater bool      // the one with the greater figure is asked for
	whether bool      // it is asked whether the first is it; otherwise which is
	decides bool      // one of them is asked for at all
}

const (
	theThing    = `((?:(?:the|an?|our) )?[^,;?]+?)`
	comparative = `((?:more|less) \pL+|\pL+er|older|more|fewer|less)`
)

var (
	whichOfTwo   = regexp.MustCompile(`(?i)^(?:which|who|what)(?: of them)?(?: \pL+)? (is|are|was|were|has|have|had|costs?|weighs?) ` + comparative + `\b([^,;]*?),? ` + theThing + ` or ` + theThing + `$`)
	whichDoes    = regexp.MustCompile(`(?i)^(?:which|who)(?: \pL+)? (weighs|costs|holds|takes|uses) (more|less),? ` + theThing + ` or ` + theThing + `$`)
	isItMore     = regexp.MustCompile(`(?i)^(?:is|are|was|were) ((?:the|an?|our) [^,;?]+?|\p{Lu}[^,;?]*?) ` + comparative + `((?: (?:by|in|at|on) \pL+)?) than ` + theThing + `$`)
	compareThem  = regexp.MustCompile(`(?i)^compare (?:the )?(.+?) (of|in|for|at) ` + theThing + ` (?:with|to|and) (?:(?:that|those) (?:of|in|for|at) |(?:of|in|for|at) )?` + theThing + `$`)
	howCompares  = regexp.MustCompile(`(?i)^how (?:does|do|did) (?:the )?(.+?) (of|in|for|at) ` + theThing + ` compare (?:with|to) (?:(?:that|those) (?:of|in|for|at) |(?:of|in|for|at) )?` + theThing + `$`)
	comparedWith = regexp.MustCompile(`(?i)^(.+?) (of|in|for|at) ` + theThing + `,? compared (?:with|to) (?:(?:that|those) (?:of|in|for|at) |(?:of|in|for|at) )?` + theThing + `$`)
	toOthers     = regexp.MustCompile(`(?i)^(how .+) (\pL+),? compared (?:with|to) ` + theThing + `$`)
	moreOfWhat   = regexp.MustCompile(`^\s?(\pL+)((?: \pL+)*)$`)
)

// contests are how to ask for what a comparative compares, and whether the greater figure
// is meant.
var contests = map[string]struct {
	ask     string
	greater bool
}{
	"larger": {"How large is %s?", true}, "bigger": {"How large is %s?", true}, "smaller": {"How large is %s?", false},
	"older": {"How old is %s?", false}, "newer": {"How old is %s?", true}, "younger": {"How old is %s?", true}, // by its year
	"warmer": {"What is the temperature%w in %s?", true}, "hotter": {"What is the temperature%w in %s?", true}, "cooler": {"What is the temperature%w in %s?", false}, "colder": {"What is the temperature%w in %s?", false},
	"higher": {"How high is %s?", true}, "taller": {"How tall is %s?", true}, "lower": {"How high is %s?", false},
	"heavier": {"How heavy is %s?", true}, "lighter": {"How heavy is %s?", false}, "faster": {"How fast is %s?", true}, "slower": {"How fast is %s?", false},
	"longer": {"How long is %s?", true}, "shorter": {"How long is %s?", false}, "deeper": {"How deep is %s?", true}, "wider": {"How wide is %s?", true}, "steeper": {"How steep is %s?", true},
	"cheaper": {"What does %s cost?", false}, "dearer": {"What does %s cost?", true}, "more expensive": {"What does %s cost?", true}, "less expensive": {"What does %s cost?", false},
	"damper": {"What is the humidity in %s?", true}, "more humid": {"What is the humidity in %s?", true}, "drier": {"What is the humidity in %s?", false},
}

// amountOfDeed is how to ask how much of something is done.
var amountOfDeed = map[string]string{"weighs": "How heavy is %s?", "costs": "What does %s cost?", "holds": "How much does %s hold?", "takes": "How much does %s take?", "uses": "How much does %s use?"}

// contestOf returns what a question sets against each other, nil if it does not.
func contestOf(whole string) *contest {
	c := setAgainst(whole)
	if c != nil && (pointing[strings.ToLower(c.sides[0])] || pointing[strings.ToLower(c.sides[1])]) {
		return nil // "is it older than that" is about what was spoken of
	}
	return c
}

func setAgainst(whole string) *contest {
	if m := whichDoes.FindStringSubmatch(whole); m != nil {
		return &contest{sides: [2]string{m[3], m[4]}, ask: amountOfDeed[strings.ToLower(m[1])], greater: strings.EqualFold(m[2], "more"), decides: true}
	}
	if m := whichOfTwo.FindStringSubmatch(whole); m != nil {
		return contestBy(m[2], m[3], [2]string{m[4], m[5]}, m[1])
	}
	if m := isItMore.FindStringSubmatch(whole); m != nil {
		c := contestBy(m[2], m[3], [2]string{m[1], m[4]}, "is")
		if c != nil {
			c.whether = true
		}
		return c
	}
	for _, pattern := range []*regexp.Regexp{compareThem, howCompares} {
		if m := pattern.FindStringSubmatch(whole); m != nil {
			return &contest{sides: [2]string{m[3], m[4]}, ask: "What is the " + m[1] + " " + m[2] + " %s?"}
		}
	}
	if m := comparedWith.FindStringSubmatch(whole); m != nil && asksFirst.MatchString(m[1]) {
		return &contest{sides: [2]string{m[3], m[4]}, ask: m[1] + " " + m[2] + " %s?"}
	}
	if m := toOthers.FindStringSubmatch(whole); m != nil && asksFirst.MatchString(m[1]) {
		return &contest{sides: [2]string{m[2], m[3]}, ask: m[1] + " %s?"}
	}
	return nil
}

// contestBy returns what a comparative sets against each other, with what is said after
// it, by a verb.
func contestBy(by, with string, sides [2]string, verb string) *contest {
	by = strings.ToLower(by)
	out := &contest{sides: sides, decides: true}
	if known, ok := contests[by]; ok {
		out.ask, out.greater = strings.ReplaceAll(known.ask, "%w", with), known.greater
		if !strings.Contains(known.ask, "%w") {
			out.ask = strings.TrimSuffix(out.ask, "?") + with + "?"
		}
		return out
	}
	counted := moreOfWhat.FindStringSubmatch(with)
	if first, noun, two := strings.Cut(by, " "); two { // "more visitors"
		by, counted = first, []string{"", noun, with}
	}
	if counted == nil || by != "more" && by != "fewer" && by != "less" || !strings.HasPrefix(strings.ToLower(verb), "ha") {
		return nil
	}
	out.greater = by == "more"
	out.ask = "How many " + counted[1] + " " + verb + " %s" + counted[2] + "?"
	return out
}

// parts are the questions about each side.
func (c *contest) parts() []Part {
	var out []Part
	for _, side := range c.sides {
		out = append(out, Part{Question: capital(strings.ReplaceAll(c.ask, "%s", strings.TrimSpace(side)))})
	}
	return out
}

var numeralsIn = regexp.MustCompile(`[-−]?\d[\d,]*(?:\.\d+)?`)

// decide says which side it is, where the figures of both tell.
func (c *contest) decide(out *Answer) {
	if !c.decides || len(out.Parts) != 2 || out.State == NotFound {
		return
	}
	a, b := figuresOf(out.Parts[0].Short), figuresOf(out.Parts[1].Short)
	if a == nil || b == nil || unitOf(out.Parts[0].Short) != unitOf(out.Parts[1].Short) {
		return
	}
	first, tie := a[0] > b[0], a[0] == b[0]
	if tie && len(a) == len(b) {
		first, tie = a[len(a)-1] > b[len(b)-1], a[len(a)-1] == b[len(b)-1]
	}
	if tie {
		return
	}
	first = first == c.greater
	switch {
	case c.whether && first:
		out.Verdict = "Yes"
	case c.whether:
		out.Verdict = "No"
	case first:
		out.Verdict = capital(c.sides[0])
	default:
		out.Verdict = capital(c.sides[1])
	}
	out.Short = out.Verdict
	out.Text = out.Verdict + ".\n" + out.Text
}

// figuresOf returns the figure that a short answer begins with, and the one up to which it
// goes, if it does.
func figuresOf(short string) []float64 {
	var out []float64
	for _, digits := range numeralsIn.FindAllString(short, 2) {
		if n, err := parseNumber(digits); err == nil {
			out = append(out, n)
		}
	}
	return out
}

// unitOf returns what a short answer counts.
func unitOf(short string) string {
	return strings.TrimSpace(strings.Map(func(r rune) rune {
		if r >= '0' && r <= '9' || strings.ContainsRune("-−–,. ", r) {
			return -1
		}
		return r
	}, strings.ReplaceAll(short, " to ", "")))
}
