package cli

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"jardinet/answer"
	"jardinet/rank"
)

// printTrace tells how an answer, or a part of it, came about, stage by stage.
func (p *program) printTrace(a *answer.Answer, t *answer.Trace) {
	columns, _ := width(p.out)
	p.printf("\n%s\n", p.paint(bold, "How it came about"))
	p.printf("%s\n", wrap("Read as: "+t.Standalone, "", "  ", columns))
	for _, c := range t.Corrected {
		p.printf("%s\n", wrap(fmt.Sprintf("Taken for a misspelling: %s, of %s…", c.Word, c.Form), "", "  ", columns))
	}
	for _, term := range t.Terms {
		like := ""
		if len(term.Like) > 0 {
			like = ", or " + strings.Join(term.Like, ", ")
		}
		p.printf("%s\n", wrap(fmt.Sprintf("%s: in %d passages, idf %.1f, weight %.2g%s", term.Word, term.Passages, term.IDF, term.Weight, like), "  ", "      ", columns))
	}
	p.printf("\nPassages\n")
	for i, c := range t.Candidates {
		p.printf("%2d  %6.2f  %s\n", i+1, c.Score, place(c.Document, c.Page, "", c.Section))
		p.printf("            %s\n", p.paint(faint, sumOf(&c.Parts)))
	}
	if len(t.Lessons) > 0 {
		p.printf("\nLessons\n")
	}
	for _, l := range t.Lessons {
		p.printf("  %5.3f  %s\n", l.Alike, clip(l.Question, 100))
	}
	p.printf("\nWhat was read in them, the best first\n")
	for _, f := range t.Findings {
		p.printf("%6.2f  relevance %+.1f, proves %.2f, words %.2f, passage %d: %s\n", f.Score, f.Relevance, f.Evidence, f.Sure, f.Candidate, clip(strings.ReplaceAll(f.Text, "\n", " "), 100))
		p.printf("        %s\n", p.paint(faint, "\u201c"+clip(strings.ReplaceAll(f.Words, "\n", " "), 100)+"\u201d"))
	}
	p.printf("\nConfidence %.2f; answered from %.2f on. Signals:", a.Confidence, t.From)
	for _, name := range slices.Sorted(maps.Keys(t.Signals)) {
		p.printf(" %s %.2f", name, t.Signals[name])
	}
	p.printf("\nMilliseconds: search %.1f, reading %.1f, composing %.1f, all %.1f\n",
		a.Timing.Search, a.Timing.Reading, a.Timing.Composing, a.Timing.Total)
	if t.Model != nil {
		p.printModel(t.Model)
	}
}

// sumOf words the parts of a score.
func sumOf(parts *rank.Features) string {
	var out []string
	for i, v := range parts.Vector() {
		out = append(out, fmt.Sprintf("%s %+.2f", rank.Names[i], v))
	}
	return strings.Join(out, "  ")
}

func (p *program) printModel(m *answer.TracedModel) {
	columns, _ := width(p.out)
	p.printf("\nModel %s at %s: %d and %d tokens, cost %.4f\n", m.Model, m.URL, m.Usage.Prompt, m.Usage.Completion, m.Cost)
	for _, message := range m.Messages {
		p.printf("%s\n", wrap(message.Role+": "+message.Content, "  ", "    ", columns))
	}
	p.printf("%s\n", wrap("said: "+m.Said, "  ", "    ", columns))
	for _, d := range m.Dropped {
		p.printf("%s\n", wrap("not supported: "+d, "  ", "    ", columns))
	}
	if m.Error != "" {
		p.printf("%s\n", wrap("error: "+m.Error, "  ", "    ", columns))
	}
}
