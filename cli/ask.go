package cli

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/answer"
	"jardinet/api"
)

func (p *program) askCommand() *cobra.Command {
	var in string
	var everywhere bool
	var schema string
	var ask api.Ask
	cmd := &cobra.Command{
		Use:   "ask QUESTION",
		Short: "Ask a question and get an answer with the pages that prove it",
		Long: `Ask a question. Each statement of the answer carries the number of the page that
it stands on. Where the documents do not say, the command says so; that is no
failure. --after gives earlier questions of the same conversation; --conversation
keeps the question and its answer, in a new conversation or in one that is kept.
--trace tells how the answer came about.`,
		Example: `  jardinet ask "How long may seed stay out of the vault?" --in halvern
  jardinet ask "And who has to sign?" --after "How long may seed stay out of the vault?"
  jardinet ask "What does a coach weigh?" --document railway-rule-book.pdf --trace`,
		Args: cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			ask.Question = strings.Join(args, " ")
			if schema != "" {
				return p.askStructured(cmd.Context(), in, schema, ask)
			}
			if everywhere || strings.Contains(in, ",") {
				return p.askAcross(cmd.Context(), in, ask)
			}
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			out, err := c.Ask(cmd.Context(), in, ask)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			p.printAnswer(out)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection, or several with commas between")
	cmd.Flags().StringVar(&schema, "schema", "", "file with a JSON Schema that the answer shall have the form of")
	cmd.Flags().BoolVar(&everywhere, "everywhere", false, "ask all collections that you may read")
	cmd.Flags().StringArrayVar(&ask.After, "after", nil, "an earlier question of the conversation (repeatable)")
	cmd.Flags().StringVar(&ask.Conversation, "conversation", "", "keep it in this conversation; \"new\" for a new one")
	scopeFlags(cmd, &ask.Scope)
	cmd.Flags().BoolVar(&ask.Trace, "trace", false, "tell how the answer came about")
	return cmd
}

// askStructured asks for an answer in the form of a schema.
func (p *program) askStructured(ctx context.Context, in, file string, ask api.Ask) error {
	data, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	if !json.Valid(data) {
		return fmt.Errorf("%s holds no JSON", file)
	}
	c, err := p.connect(ctx, &in)
	if err != nil {
		return err
	}
	ask.Schema = data
	out, err := c.AskStructured(ctx, in, ask)
	if err != nil {
		return err
	}
	return p.printJSON(out)
}

// askAcross asks several collections, and shows what each that answers says; or what comes closest
// where none does.
func (p *program) askAcross(ctx context.Context, in string, ask api.Ask) error {
	c, err := p.client()
	if err != nil {
		return err
	}
	var names []string
	if in != "" {
		names = strings.Split(in, ",")
	}
	all, err := c.AskAcross(ctx, names, ask)
	if err != nil {
		return err
	}
	if p.json {
		return p.printJSON(map[string]any{"answers": all})
	}
	for i, one := range all {
		if i > 0 && one.Answer.State == answer.NotFound {
			continue
		}
		if i > 0 {
			p.printf("\n")
		}
		p.printf("%s\n", p.paint(bold, one.Collection))
		p.printAnswer(one.Answer)
	}
	return nil
}

// scopeFlags are those that say where to look.
func scopeFlags(cmd *cobra.Command, scope *api.Scope) {
	cmd.Flags().StringArrayVar(&scope.Documents, "document", nil, "look in this document only (repeatable)")
	cmd.Flags().StringArrayVar(&scope.Tags, "tag", nil, "look in documents with this tag (repeatable: with all of them)")
	cmd.Flags().StringToStringVar(&scope.Where, "where", nil, "look in documents with this field, such as department=estates (repeatable)")
	cmd.Flags().StringVar(&scope.Language, "language", "", "look in documents in this language, such as fr")
	cmd.Flags().StringVar(&scope.Since, "since", "", "look in documents put in on this day or later, such as 2026-01-31")
}

func (p *program) printAnswer(a *answer.Answer) {
	columns, _ := width(p.out)
	defer p.printAside(a)
	if a.State == answer.NotFound {
		p.printf("%s\n", p.paint(bold, a.Text))
		if len(a.Missing) > 0 {
			p.printf("%s\n", wrap("Not in the nearest passages: "+strings.Join(a.Missing, ", ")+".", "", "", columns))
		}
		for i, n := range a.Nearest {
			switch {
			case i == 0 && a.Maybe:
				p.printf("\nThis may be it:\n")
			case i == 0:
				p.printf("\nWhat comes closest:\n")
			case i == 1 && a.Maybe:
				p.printf("\nElsewhere:\n")
			}
			p.printf("  %s\n", p.paint(faint, place(n.Document, n.Page, n.Label, n.Section)))
			p.printf("%s\n", wrap(closest(&n), "    ", "    ", columns))
		}
		return
	}
	if len(a.Parts) > 0 {
		p.printParts(a)
	} else {
		if a.Short != "" {
			p.printf("%s\n\n", p.paint(bold, a.Short))
		}
		for _, s := range a.Statements {
			p.printStatement(s)
		}
	}
	p.printf("\n")
	for _, c := range a.Citations {
		p.printf("%s %s\n", p.paint(ochre, fmt.Sprintf("[%d]", c.Number)), place(c.Document, c.Page, c.Label, c.Section))
	}
}

// closest returns the sentences of a passage that come closest to answering.
func closest(n *answer.Nearest) string {
	var out []string
	for _, l := range n.Sentences {
		if l.Closest {
			out = append(out, strings.ReplaceAll(l.Text, "\n", " "))
		}
	}
	return clip(strings.Join(out, " "), 300)
}

// printParts prints the answers to several questions, one after the other.
func (p *program) printParts(a *answer.Answer) {
	for i, part := range a.Parts {
		if i > 0 {
			p.printf("\n")
		}
		p.printf("%s\n", p.paint(faint, part.Question))
		if part.State == answer.NotFound {
			p.printf("  The documents do not say.\n")
		}
		if part.Short != "" {
			p.printf("%s\n", p.paint(bold, part.Short))
		}
		for _, s := range part.Statements {
			p.printStatement(a.Statements[s])
		}
	}
}

func (p *program) printStatement(s answer.Statement) {
	columns, _ := width(p.out)
	marks := ""
	for _, n := range s.Citations {
		marks += fmt.Sprintf(" [%d]", n)
	}
	if s.Unproven {
		marks += " (not supported by the documents)"
	}
	if s.Contrary != "" {
		p.printf("\n%s\n", p.paint(ochre, "Otherwise in "+s.Contrary+":"))
	}
	p.printf("%s%s\n", wrap(s.Text, "  ", "  ", columns-6), p.paint(ochre, marks))
}

// printAside shows what belongs to an answer and is none.
func (p *program) printAside(a *answer.Answer) {
	columns, _ := width(p.out)
	if a.Taught {
		p.printf("\n%s\n", p.paint(faint, "Somebody has shown where this stands."))
	}
	if a.Added != "" {
		p.printf("\n%s\n", wrap(a.Added, "", "", columns))
	}
	if a.Note != "" {
		p.printf("\n%s\n", p.paint(faint, wrap("Note: "+a.Note, "", "  ", columns)))
	}
	if a.Conversation != "" {
		p.printf("\n%s\n", p.paint(faint, "Saved. Ask a follow-up with --conversation "+a.Conversation))
	}
	if a.Trace != nil {
		p.printTrace(a, a.Trace)
	}
	for _, part := range a.Parts {
		if part.Trace != nil {
			p.printTrace(a, part.Trace)
		}
	}
}

// place words where something stands: physical page, printed one if it
// differs, section.
func place(document string, page int, label string, section []string) string {
	out := fmt.Sprintf("%s, page %d", document, page)
	if label != "" && label != strconv.Itoa(page) {
		out += " (printed " + label + ")"
	}
	if len(section) > 0 {
		out += " · " + clip(strings.Join(section[max(0, len(section)-2):], " › "), 90)
	}
	return out
}

func (p *program) findCommand() *cobra.Command {
	var in string
	var top int
	var explain bool
	var scope api.Scope
	cmd := &cobra.Command{
		Use:   "find QUERY",
		Short: "Find the passages that answers would be made from",
		Long: `Find the passages that answers would be made from, the best first. --explain adds
how the query was understood and what each part of a score gave.`,
		Example: `  jardinet find "orchid house night temperature" --in halvern --top 5
  jardinet find "time off at the seaside" --in halvern --explain`,
		Args: cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			query := strings.Join(args, " ")
			if explain {
				found, understood, err := c.Explain(cmd.Context(), in, query, top, scope)
				if err != nil {
					return err
				}
				if p.json {
					return p.printJSON(map[string]any{"query": query, "passages": found, "understood": understood})
				}
				p.printUnderstood(understood)
				p.printFound(found)
				return nil
			}
			found, err := c.Find(cmd.Context(), in, query, top, scope)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(found)
			}
			p.printFound(found.Passages)
			if left := found.LeftOut; left != nil {
				p.printf("\n%d of %d parts of the collection could not be looked at now.\n", left.Parts, left.Of)
			}
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().IntVar(&top, "top", 10, "how many passages")
	scopeFlags(cmd, &scope)
	cmd.Flags().BoolVar(&explain, "explain", false, "tell how the scores came about")
	return cmd
}

// printUnderstood shows what was looked for.
func (p *program) printUnderstood(u *api.Understood) {
	columns, _ := width(p.out)
	for _, t := range u.Terms {
		like := ""
		if len(t.Like) > 0 {
			like = ", or " + strings.Join(t.Like, ", ")
		}
		p.printf("%s\n", wrap(fmt.Sprintf("%s (idf %.1f, in %d passages)%s", t.Word, t.IDF, t.Passages, like), "  ", "      ", columns))
	}
	p.printf("\n")
}

func (p *program) printFound(found []api.Found) {
	if len(found) == 0 {
		p.printf("Nothing found.\n")
	}
	columns, _ := width(p.out)
	for _, f := range found {
		page := 0
		if len(f.Pages) > 0 {
			page = f.Pages[0]
		}
		p.printf("%s %s\n", p.paint(bold, fmt.Sprintf("%2d  %.2f", f.Rank, f.Score)), place(f.Document, page, f.Label, f.Section))
		if f.Explain != nil {
			parts := f.Explain.Features.Times(&f.Explain.Weights)
			p.printf("    %s\n", p.paint(faint, sumOf(&parts)))
		}
		p.printf("%s\n", wrap(clip(strings.ReplaceAll(f.Text, "\n", " "), 320), "    ", "    ", columns))
	}
}
