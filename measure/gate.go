package measure

import (
	"encoding/xml"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"
)

// A Requirement is what a figure has to reach, such as page_recall@5>=0.95.
type Requirement struct {
	Figure string // key
	Least  bool   // the figure has to be at least so much, not at most
	Value  float64
}

var requirement = regexp.MustCompile(`^\s*(\S+?)\s*(>=|<=)\s*([0-9.]+)\s*$`)

// ParseRequirement reads one.
func ParseRequirement(s string) (Requirement, error) {
	m := requirement.FindStringSubmatch(s)
	if m == nil {
		return Requirement{}, fmt.Errorf("requirement %q: write it as page_recall@5>=0.95 or refusals_wrong<=0.03", s)
	}
	v, err := strconv.ParseFloat(m[3], 64)
	if err != nil || v > 1 {
		return Requirement{}, fmt.Errorf("requirement %q: %s is no share between 0 and 1", s, m[3])
	}
	if _, err := kindOf(m[1]); err != nil {
		return Requirement{}, fmt.Errorf("requirement %q: %w", s, err)
	}
	return Requirement{m[1], m[2] == ">=", v}, nil
}

func (r Requirement) String() string {
	sign := "<="
	if r.Least {
		sign = ">="
	}
	return fmt.Sprintf("%s%s%g", r.Figure, sign, r.Value)
}

// A Verification is what came of one thing that was required.
type Verification struct {
	Required string `json:"required"`
	Held     bool   `json:"held"`
	Reason   string `json:"reason"`
}

// Holds tells whether a measurement has what is required of it.
func (r Requirement) Holds(m *Measurement) Verification {
	out := Verification{Required: r.String()}
	f, err := FigureOf(r.Figure, m.Records)
	if err != nil || f.Questions == 0 {
		out.Reason = "no question of the set tells"
		return out
	}
	out.Held = r.Least && f.Value >= r.Value || !r.Least && f.Value <= r.Value
	out.Reason = fmt.Sprintf("%s is %.3f (%.3f to %.3f over %d questions)", f.Name, f.Value, f.Low, f.High, f.Questions)
	return out
}

// NoWorse tells of each figure whether it is significantly worse than it was.
func (c *Comparison) NoWorse() []Verification {
	out := []Verification{}
	for _, f := range c.Figures {
		out = append(out, Verification{
			Required: Key(f.Name) + " no worse", Held: !f.Worse,
			Reason: fmt.Sprintf("%s was %.3f and is %.3f (p = %.3f)", f.Name, f.A, f.B, f.P),
		})
	}
	return out
}

type junitSuite struct {
	XMLName  xml.Name    `xml:"testsuite"`
	Name     string      `xml:"name,attr"`
	Tests    int         `xml:"tests,attr"`
	Failures int         `xml:"failures,attr"`
	Time     string      `xml:"time,attr"`
	Stamp    string      `xml:"timestamp,attr,omitempty"`
	Cases    []junitCase `xml:"testcase"`
}

type junitCase struct {
	Class   string        `xml:"classname,attr"`
	Name    string        `xml:"name,attr"`
	Time    string        `xml:"time,attr"`
	Failure *junitFailure `xml:"failure,omitempty"`
}

type junitFailure struct {
	Message string `xml:"message,attr"`
	Text    string `xml:",chardata"`
}

// WriteJUnit writes what was required, and each question, as JUnit XML, which build servers
// show. Only what was required fails the build; if nothing was, each question that came out
// wrong does.
func WriteJUnit(w io.Writer, m *Measurement, required []Verification) error {
	suite := junitSuite{Name: m.Set.Name + " on " + m.Subject.Collection, Stamp: m.Created.Format("2006-01-02T15:04:05")}
	seconds := 0.0
	for _, v := range required {
		c := junitCase{Class: "required", Name: v.Required, Time: "0"}
		if !v.Held {
			c.Failure = &junitFailure{Message: v.Reason}
		}
		suite.Cases = append(suite.Cases, c)
	}
	for i := range m.Records {
		r := &m.Records[i]
		took := r.Timing.Total / 1000
		seconds += took
		c := junitCase{Class: "question", Name: r.ID + ": " + r.Question, Time: fmt.Sprintf("%.3f", took)}
		if !r.Succeeded() && len(required) == 0 {
			c.Failure = &junitFailure{Message: strings.TrimSpace(r.Outcome + ": " + string(r.Cause)), Text: fmt.Sprintf("expected: %s\nanswered: %s\n", r.Expected, r.Answer)}
		}
		suite.Cases = append(suite.Cases, c)
	}
	for _, c := range suite.Cases {
		suite.Tests++
		if c.Failure != nil {
			suite.Failures++
		}
	}
	suite.Time = fmt.Sprintf("%.3f", seconds)
	if _, err := io.WriteString(w, xml.Header); err != nil {
		return err
	}
	e := xml.NewEncoder(w)
	e.Indent("", "  ")
	if err := e.Encode(suite); err != nil {
		return fmt.Errorf("measure: JUnit: %w", err)
	}
	_, err := io.WriteString(w, "\n")
	return err
}
