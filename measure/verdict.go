package measure

import "fmt"

// A Verdict is what a person says of one answer.
type Verdict struct {
	Question string    `json:"question"` // id
	Judge    string    `json:"judge"`
	Says     Judgement `json:"says"`
	Cause    Cause     `json:"cause,omitempty"`
	Better   *Evidence `json:"better,omitempty"` // a page that proves it better
	Comment  string    `json:"comment,omitempty"`
}

// A Judgement is one of the four things that can be said of an answer.
type Judgement string

// Judgements.
const (
	IsRight   Judgement = "right"
	IsPartly  Judgement = "partly"
	IsWrong   Judgement = "wrong"
	CannotSay Judgement = "cannot say"
)

// Check tells what is wrong with a verdict.
func (v *Verdict) Check() error {
	switch v.Says {
	case IsRight, IsPartly, IsWrong, CannotSay:
	default:
		return fmt.Errorf("verdict %q: say right, partly, wrong or cannot say", v.Says)
	}
	if v.Better != nil && (v.Better.Document == "" || v.Better.Page < 1) {
		return fmt.Errorf("the better page needs a document and a page from 1")
	}
	return nil
}

// Judge returns the measurement as people judged it: their verdicts stand in the place of the
// comparison with accepted wordings. Where judges disagree, the answer counts as wrong; where
// none can say, as it was.
func (m *Measurement) Judge(verdicts []Verdict) *Measurement {
	says := map[string][]Verdict{}
	for _, v := range verdicts {
		if v.Says != CannotSay {
			says[v.Question] = append(says[v.Question], v)
		}
	}
	out := *m
	out.Records = make([]Record, len(m.Records))
	for i, r := range m.Records {
		if of := says[r.ID]; len(of) > 0 {
			r.judgedBy(of)
		}
		out.Records[i] = r
	}
	out.Summarise()
	return &out
}

// judgedBy puts verdicts in the place of a record's outcome. Whoever says that an answer is
// right has looked at the page behind it.
func (r *Record) judgedBy(verdicts []Verdict) {
	r.Judged = true
	right := true
	for _, v := range verdicts {
		right = right && v.Says == IsRight
	}
	switch {
	case right:
		r.Outcome, r.Cause, r.Cited = Right, "", true
	case r.refused() && r.Answerable:
		r.Outcome = Refused
	case !r.Answerable && !r.refused():
		r.Outcome = Invented
	default:
		r.Outcome = Wrong
	}
	for _, v := range verdicts {
		if !right && v.Cause != "" {
			r.Cause = v.Cause
		}
	}
}

// Agreement is how far two judges agree beyond chance: Cohen's κ (1960) over the answers that
// both judged.
type Agreement struct {
	Judges [2]string `json:"judges"`
	Both   int       `json:"both"`   // answers that both judged
	Agreed float64   `json:"agreed"` // share
	Kappa  float64   `json:"kappa"`
}

// Agree compares two judges; ok is false if they judged nothing in common.
func Agree(verdicts []Verdict, a, b string) (out Agreement, ok bool) {
	says := map[string][2]Judgement{}
	for _, v := range verdicts {
		both := says[v.Question]
		switch v.Judge {
		case a:
			both[0] = v.Says
		case b:
			both[1] = v.Says
		}
		says[v.Question] = both
	}
	first, second := map[Judgement]float64{}, map[Judgement]float64{}
	out.Judges = [2]string{a, b}
	for _, both := range says {
		if both[0] == "" || both[1] == "" {
			continue
		}
		out.Both++
		first[both[0]]++
		second[both[1]]++
		out.Agreed += truth(both[0] == both[1])
	}
	if out.Both == 0 {
		return out, false
	}
	n, chance := float64(out.Both), 0.0
	for j, f := range first {
		chance += f / n * second[j] / n
	}
	out.Agreed /= n
	if out.Kappa = 1; chance < 1 {
		out.Kappa = round((out.Agreed - chance) / (1 - chance))
	}
	out.Agreed = round(out.Agreed)
	return out, true
}
