package answer

import (
	"cmp"
	"errors"
	"fmt"
	"strings"

	"jardinet/modelapi"
	"jardinet/text"
)

// A Style is how an organisation wants its answers.
type Style struct {
	Statements int      `json:"statements,omitempty"` // at most; 0 for three
	LeaveOut   []string `json:"leave_out,omitempty"`  // no statement with one of these, or under such a heading
	Add        string   `json:"add,omitempty"`        // a sentence at the end of every answer
	Note       string   `json:"note,omitempty"`       // on tone and the like; only a model can follow it
	Certain    float64  `json:"certain,omitempty"`    // confidence from which an answer is given; 0 for the fitted one
	Passages   int      `json:"passages,omitempty"`   // that are read for an answer; 0 for twelve
	Model      *Model   `json:"model,omitempty"`      // writes answers; nil for the program alone
}

// A Model is an outside model that puts evidence into words.
type Model struct {
	modelapi.Server
	Ungrounded  string  `json:"ungrounded,omitempty"`   // what becomes of a sentence that the evidence does not bear: drop or mark
	Prompt      int     `json:"prompt,omitempty"`       // tokens of evidence, about; 0 for 1500
	Completion  int     `json:"completion,omitempty"`   // tokens of the answer; 0 for 400
	Seconds     float64 `json:"seconds,omitempty"`      // how long a reader waits for it; 0 for 20
	PriceIn     float64 `json:"price_in,omitempty"`     // for a million tokens of prompt
	PriceOut    float64 `json:"price_out,omitempty"`    // for a million tokens of answer
	MostTokens  int     `json:"most_tokens,omitempty"`  // a day; 0 for no limit
	MostPayment float64 `json:"most_payment,omitempty"` // a day; 0 for no limit
}

// Cost returns what a completion costs at the prices that are set.
func (m *Model) Cost(u modelapi.Usage) float64 {
	return (float64(u.Prompt)*m.PriceIn + float64(u.Completion)*m.PriceOut) / 1e6
}

// Most returns what one answer of the model may use.
func (m *Model) Most() modelapi.Usage {
	most := modelapi.Usage{Prompt: cmp.Or(m.Prompt, promptTokens), Completion: cmp.Or(m.Completion, completionTokens)}
	most.Prompt += instructionTokens
	return most
}

// Bounds of a style.
const (
	mostStatements = 20
	mostLetters    = 2000
	mostPassages   = 50
	mostLeftOut    = 200
)

// Validate tells what is wrong with a style.
func (s *Style) Validate() error {
	switch {
	case s.Statements < 0 || s.Statements > mostStatements:
		return fmt.Errorf("statements is %d: choose 1 to %d, or 0 for three", s.Statements, mostStatements)
	case s.Certain < 0 || s.Certain > 1:
		return fmt.Errorf("certain is %g: choose 0 to 1, such as 0.6 for fewer answers of which more are right", s.Certain)
	case s.Passages < 0 || s.Passages > mostPassages:
		return fmt.Errorf("passages is %d: choose 1 to %d, or 0 for %d", s.Passages, mostPassages, depth)
	case len(s.Add) > mostLetters || len(s.Note) > mostLetters:
		return fmt.Errorf("a text is longer than %d bytes", mostLetters)
	}
	if len(s.LeaveOut) > mostLeftOut {
		return fmt.Errorf("leave_out has %d texts, the limit is %d", len(s.LeaveOut), mostLeftOut)
	}
	for _, l := range s.LeaveOut {
		if strings.TrimSpace(l) == "" {
			return fmt.Errorf("leave_out holds an empty text")
		}
	}
	if s.Model == nil {
		return nil
	}
	m := s.Model
	if m.Prompt < 0 || m.Completion < 0 || m.Seconds < 0 || m.PriceIn < 0 || m.PriceOut < 0 || m.MostTokens < 0 || m.MostPayment < 0 {
		return errors.New("a number of the model's is below zero")
	}
	if u := s.Model.Ungrounded; u != "" && u != "drop" && u != "mark" {
		return fmt.Errorf("ungrounded is %q: choose drop or mark", u)
	}
	return s.Model.Validate()
}

// omits tells whether a style leaves out a sentence under a section.
func (s *Style) omits(sentence string, section []string) bool {
	for _, l := range s.LeaveOut {
		folded := text.Fold(l)
		if strings.Contains(text.Fold(sentence), folded) || strings.Contains(text.Fold(strings.Join(section, "\n")), folded) {
			return true
		}
	}
	return false
}
