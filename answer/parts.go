package answer

import (
	"context"
	"regexp"
	"strings"

	"jardinet/text"
)

// A Part is one of several questions that were asked in one.
type Part struct {
	Question   string `json:"question"`
	State      State  `json:"state"`
	Short      string `json:"short"`
	Verdict    string `json:"verdict,omitempty"`
	Statements []int  `json:"statements"` // places among the answer's, from 0
	Trace      *Trace `json:"trace,omitempty"`
}

// another matches where a second question begins within a sentence.
var another = regexp.MustCompile(`(?i)(?:[,;]\s*|\s+)(?:and|et|und)\s+((?:(?:since|until|from|by|for|to|with|in|at)\s+)?(?:what|which|who|whom|whose|when|where|why|how|quels?|quelles?|qui|quand|où|pourquoi|comment|combien|was|welche[rsn]?|wer|wann|wo|warum|wie)\b)`)

// parts takes a question apart where it asks several things; nil if it is one. What comes
// before the first question mark may be needed for what comes after, and is only taken
// apart if all of it is questions.
func parts(question string) []string {
	var out []string
	sentences := strings.SplitAfter(strings.TrimSpace(question), "?")
	if last := strings.TrimSpace(sentences[len(sentences)-1]); last == "" {
		sentences = sentences[:len(sentences)-1]
	} else if len(sentences) > 1 {
		return nil
	}
	for _, s := range sentences {
		s = strings.Trim(s, "? ")
		for at := another.FindStringSubmatchIndex(s); at != nil; at = another.FindStringSubmatchIndex(s) {
			if len(strings.Fields(s[:at[0]])) < 3 || len(strings.Fields(s[at[2]:])) < 2 {
				break // "when and where is it held" is one
			}
			out, s = append(out, s[:at[0]]+"?"), s[at[2]:]
		}
		if s != "" {
			out = append(out, capital(s)+"?")
		}
	}
	if len(out) < 2 || len(out) > mostParts {
		return nil
	}
	return out
}

// mostParts is how many questions are answered one by one; each takes as long as a question
// by itself.
const mostParts = 6

// several answers questions one after the other, each with those before it to lean on.
func (a *Answerer) several(ctx context.Context, question string, all, after []string) (*Answer, error) {
	out := blank(question)
	alone := *a
	alone.Style.Add = ""
	answered := 0
	for _, q := range all {
		one, err := alone.one(ctx, q, after)
		if err != nil {
			return nil, err
		}
		out.join(one)
		if one.State != NotFound {
			answered++
		}
		after = append(after[:len(after):len(after)], q)
	}
	switch answered {
	case 0:
	case len(all):
		out.State = Answered
	default:
		out.State = Partial
	}
	var texts []string
	for _, p := range out.Parts {
		texts = append(texts, p.Question)
		if p.Short != "" {
			texts = append(texts, p.Short+".")
		}
		for _, i := range p.Statements {
			texts = append(texts, out.Statements[i].Text)
		}
		if p.State == NotFound {
			texts = append(texts, phrasesIn(text.Detect(p.Question, text.English)).unsaid)
		}
	}
	out.Text = strings.Join(texts, "\n")
	return out, nil
}

// join adds the answer to one of several questions.
func (out *Answer) join(one *Answer) {
	part := Part{Question: one.Question, State: one.State, Short: one.Short, Verdict: one.Verdict, Statements: []int{}, Trace: one.Trace}
	numbers := map[int]int{} // of its citations to ours
	for _, c := range one.Citations {
		at := -1
		for _, known := range out.Citations {
			if known.DocumentID == c.DocumentID && known.Page == c.Page && known.Quote == c.Quote {
				at = known.Number
			}
		}
		if at < 0 {
			at = len(out.Citations) + 1
			known := c
			known.Number = at
			out.Citations = append(out.Citations, known)
		}
		numbers[c.Number] = at
	}
	for _, s := range one.Statements {
		for i, n := range s.Citations {
			s.Citations[i] = numbers[n]
		}
		part.Statements = append(part.Statements, len(out.Statements))
		out.Statements = append(out.Statements, s)
	}
	out.Parts = append(out.Parts, part)
	out.Missing = append(out.Missing, one.Missing...)
	out.Nearest = append(out.Nearest, one.Nearest...)
	out.Passages = append(out.Passages, one.Passages...)
	out.Unknown = append(out.Unknown, one.Unknown...)
	out.Taught = out.Taught || one.Taught
	out.Timing.add(one.Timing)
	out.Usage.Prompt += one.Usage.Prompt
	out.Usage.Completion += one.Usage.Completion
	if out.Confidence == 0 || one.Confidence < out.Confidence {
		out.Confidence, out.Signals = one.Confidence, one.Signals
	}
	if one.Note != "" {
		out.Note = one.Note
	}
}
