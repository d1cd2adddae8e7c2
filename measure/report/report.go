// Package report writes a measurement up for those who were not there: what was measured and how,
// every figure with its interval, drawings, where questions were lost, and the questions that came
// out worst, with pictures of the pages that should have answered. As one HTML file that needs
// nothing else, or as Markdown.
package report

import (
	"bytes"
	"cmp"
	_ "embed"
	"encoding/base64"
	"fmt"
	"html/template"
	"io"
	"slices"
	"strings"
	text "text/template"

	"jardinet/measure"
)

// Options are what a report may have beside the measurement.
type Options struct {
	// Picture returns a page as it looks, as PNG; nil does without.
	Picture func(document string, page int) ([]byte, error)
	// Against compares with an earlier measurement; nil for none.
	Against *measure.Comparison
	// Worst is how many of the questions that came out wrong are shown; 0 for ten.
	Worst int
}

// A report is what the templates see.
type report struct {
	*measure.Measurement
	Against *measure.Comparison
	Plots   []drawn
	Tags    []group
	Lost    []lost
	Worst   []worst
	Wrong   int
}

type drawn struct {
	Plot
	Image template.HTML // in the page
	Link  string        // to the same as a picture, which the address itself holds
}

type group struct {
	Name    string
	Figures map[string]measure.Figure
	Of      int
}

type lost struct {
	Cause measure.Cause
	Count int
	Share float64
	Means string
}

type worst struct {
	measure.Record
	Pictures []picture
}

type picture struct {
	Document string
	Page     int
	Data     template.URL
}

// means says of each cause what it is and what can be done.
var means = map[measure.Cause]string{
	measure.StaleEvidence:  "The expected page is not in the collection. Look the question's evidence over.",
	measure.NotRead:        "The words that answer are not in what was read from the page. Look at the page's findings, and correct it.",
	measure.CutApart:       "The words were read and stand in no passage as a whole. Try longer passages, or more overlap.",
	measure.NotRetrieved:   "The passage is not among the first hundred. Try other retrieval, or teach the glossary the readers' words.",
	measure.RankedLow:      "The passage was found and not read. Try reading more passages for an answer.",
	measure.PassedOver:     "The passage was read, and another one preferred. Look at both; teach the answer if it matters.",
	measure.WrongSpan:      "The sentence that was shown holds the answer; the words put first do not.",
	measure.WronglyRefused: "The right passage came first, and was not sure enough. A lower threshold would give this answer, and wrong ones too.",
	measure.WrongCitation:  "The answer is right, and what it cites does not say it.",
	measure.OtherEvidence:  "The answer is right and proved by a page that the set does not name. Add that page to the question's evidence.",
	measure.ShouldRefuse:   "The documents do not say, and yet there was an answer. A higher threshold would refuse.",
}

// shown are the figures of which tables by kind of question tell.
var shown = []string{measure.Recall5, measure.Accepted, measure.Proved, measure.RefusedWell, measure.RefusedBad}

//go:embed report.html
var page string

//go:embed report.md
var markdown string

var functions = map[string]any{
	"share": func(v float64) string { return fmt.Sprintf("%.3f", v) },
	"ms":    func(v float64) string { return fmt.Sprintf("%.1f", v) },
	"shown": func() []string { return shown },
	"line":  func(s string) string { return strings.Join(strings.Fields(s), " ") },
	"cell":  func(s string) string { return strings.ReplaceAll(strings.Join(strings.Fields(s), " "), "|", "\\|") },
	"day":   func(m *measure.Measurement) string { return m.Created.Format("2 January 2006, 15:04 MST") },
}

var (
	htmlPage     = template.Must(template.New("html").Funcs(functions).Parse(page))
	markdownPage = text.Must(text.New("markdown").Funcs(functions).Parse(markdown))
)

// HTML writes one file with everything in it.
func HTML(w io.Writer, m *measure.Measurement, o Options) error {
	r, err := gather(m, o)
	if err != nil {
		return err
	}
	for i := range r.Plots {
		svg, err := r.Plots[i].SVG()
		if err != nil {
			return err
		}
		// What comes before the drawing itself is for files of their own.
		r.Plots[i].Image = template.HTML(svg[bytes.Index(svg, []byte("<svg")):])
	}
	return htmlPage.Execute(w, r)
}

// Markdown writes the report without pictures of pages; its drawings are in the text's own links.
func Markdown(w io.Writer, m *measure.Measurement, o Options) error {
	o.Picture = nil
	r, err := gather(m, o)
	if err != nil {
		return err
	}
	for i := range r.Plots {
		png, err := r.Plots[i].PNG()
		if err != nil {
			return err
		}
		r.Plots[i].Link = "data:image/png;base64," + base64.StdEncoding.EncodeToString(png)
	}
	return markdownPage.Execute(w, r)
}

func gather(m *measure.Measurement, o Options) (*report, error) {
	plots, err := Plots(m)
	if err != nil {
		return nil, err
	}
	r := &report{Measurement: m, Against: o.Against}
	for _, p := range plots {
		r.Plots = append(r.Plots, drawn{Plot: p})
	}
	for name, figures := range m.ByTag {
		g := group{Name: name, Figures: map[string]measure.Figure{}}
		for _, f := range figures {
			g.Figures[f.Name], g.Of = f, max(g.Of, f.Questions)
		}
		r.Tags = append(r.Tags, g)
	}
	slices.SortFunc(r.Tags, func(a, b group) int { return cmp.Compare(a.Name, b.Name) })
	for i := range m.Records {
		if !m.Records[i].Succeeded() && m.Records[i].Outcome != measure.Unjudged {
			r.Wrong++
		}
	}
	for _, c := range measure.Causes {
		if n := m.Causes[c]; n > 0 {
			r.Lost = append(r.Lost, lost{c, n, float64(n) / float64(max(1, r.Wrong)), means[c]})
		}
	}
	r.Worst = worstOf(m, o)
	return r, nil
}

// worstOf picks the questions that came out wrong with the greatest confidence; those refused come last.
func worstOf(m *measure.Measurement, o Options) []worst {
	var out []worst
	for i := range m.Records {
		if r := m.Records[i]; !r.Succeeded() && r.Outcome != measure.Unjudged {
			out = append(out, worst{Record: r})
		}
	}
	slices.SortStableFunc(out, func(a, b worst) int {
		if refused := a.State == "not_found"; refused != (b.State == "not_found") {
			if refused {
				return 1
			}
			return -1
		}
		return cmp.Compare(b.Confidence, a.Confidence)
	})
	out = out[:min(len(out), cmp.Or(o.Worst, 10))]
	for i := range out {
		out[i].Pictures = picturesOf(&out[i].Record, o)
	}
	return out
}

// picturesOf returns the pages of the first thing that would have proved an answer. One that is
// gone, which the cause says, is left out.
func picturesOf(r *measure.Record, o Options) []picture {
	if o.Picture == nil || len(r.Evidence) == 0 {
		return nil
	}
	var out []picture
	for _, p := range (&measure.Question{Evidence: r.Evidence[:1]}).Places() {
		if data, err := o.Picture(p.Document, p.Page); err == nil {
			out = append(out, picture{p.Document, p.Page, template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(data))})
		}
	}
	return out
}
