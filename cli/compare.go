package cli

import (
	"fmt"
	"os"
	"strconv"

	"github.com/spf13/cobra"

	"jardinet/measure"
)

func (p *program) compareCommand() *cobra.Command {
	var rows bool
	cmd := &cobra.Command{
		Use:   "compare BEFORE AFTER",
		Short: "Compare two measurements, question by question",
		Long: `Compare two measurements of the same questions: every figure with its difference and
how likely so large a difference is by chance, where questions were lost in both, and
with --rows each question that got better or worse.`,
		Example: "  jardinet compare QX3M7KZT2ABCD RB5NKA2PWCDEF --rows",
		Args:    cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			out, err := c.Compare(cmd.Context(), args[0], args[1])
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			p.printComparison(out)
			if rows {
				p.printPairs("Better", out.Better)
				p.printPairs("Worse", out.Worse)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&rows, "rows", false, "print the questions that got better and worse")
	return cmd
}

func (p *program) printComparison(c *measure.Comparison) {
	p.printf("%s, compared with %s: %s in both\n\n", p.paint(bold, c.B), p.paint(bold, c.A), plural(c.Questions, "question"))
	table := [][]string{{"FIGURE", "BEFORE", "AFTER", "DIFFERENCE", "95 % INTERVAL", "P", ""}}
	for _, f := range c.Figures {
		verdict := ""
		if f.Better {
			verdict = "better"
		} else if f.Worse {
			verdict = "worse"
		}
		table = append(table, []string{f.Name, fmt.Sprintf("%.3f", f.A), fmt.Sprintf("%.3f", f.B), fmt.Sprintf("%+.3f", f.Difference), fmt.Sprintf("%+.3f – %+.3f", f.Low, f.High), fmt.Sprintf("%.3f", f.P), verdict})
	}
	p.table(table)
	p.printf("\n%d got better and %d worse (McNemar's exact test: p = %.3f).\n", len(c.Better), len(c.Worse), c.McNemar)
	if len(c.Causes) == 0 {
		return
	}
	p.printf("\n")
	table = [][]string{{"LOST WHERE", "BEFORE", "AFTER"}}
	for _, n := range c.Causes {
		table = append(table, []string{string(n.Cause), strconv.Itoa(n.A), strconv.Itoa(n.B)})
	}
	p.table(table)
}

func (p *program) printPairs(title string, pairs []measure.Pair) {
	if len(pairs) == 0 {
		return
	}
	p.printf("\n%s\n", p.paint(bold, title))
	for _, q := range pairs {
		p.printf("  %s  %s\n", q.ID, q.Question)
		for i, side := range []measure.Side{q.A, q.B} {
			p.printf("    %s: %s", []string{"before", "after"}[i], side.Outcome)
			if side.Cause != "" {
				p.printf(" (%s)", side.Cause)
			}
			if side.Answer != "" {
				p.printf(": %s", clip(oneLine(side.Answer), 70))
			}
			p.printf("\n")
		}
	}
}

func (p *program) reportCommand() *cobra.Command {
	var out, format, against string
	var judged bool
	cmd := &cobra.Command{
		Use:   "report ID",
		Short: "Write a measurement up for people who were not there",
		Long: `Write a measurement up as one HTML file with drawings and pictures of pages, which needs
nothing else; as Markdown; as JUnit XML; or as the TREC run file of what was found.`,
		Example: "  jardinet report QX3M7KZT2ABCD --out accuracy.html\n  jardinet report QX3M7KZT2ABCD --as run --out jardinet.run",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			data, err := c.Report(cmd.Context(), args[0], format, against, judged)
			if err != nil {
				return err
			}
			return p.save(out, data)
		},
	}
	cmd.Flags().StringVar(&out, "out", "", "file to write; standard output if absent")
	cmd.Flags().StringVar(&format, "as", "html", "html, markdown, junit or run")
	cmd.Flags().StringVar(&against, "against", "", "earlier measurement to compare with")
	cmd.Flags().BoolVar(&judged, "judged", false, "the figures as people judged the answers")
	return cmd
}

// save writes to a file, or prints if none is named.
func (p *program) save(path string, data []byte) error {
	if path == "" {
		_, err := p.out.Write(data)
		return err
	}
	if err := os.WriteFile(path, data, 0o644); err != nil {
		return err
	}
	p.printf("Written to %s (%d kB).\n", path, (len(data)+1023)/1024)
	return nil
}

func (p *program) verdictsCommand() *cobra.Command {
	return &cobra.Command{
		Use:     "verdicts ID",
		Short:   "Show what people said of a measurement's answers, and how far they agree",
		Long:    "Show what people said of a measurement's answers. They are given in the console, under\nAccuracy, with the page beside each answer.",
		Example: "  jardinet verdicts QX3M7KZT2ABCD",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			out, err := c.Judging(cmd.Context(), args[0])
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			if len(out.Verdicts) == 0 {
				p.printf("Nobody has judged its answers yet.\n")
				return nil
			}
			table := [][]string{{"QUESTION", "JUDGE", "SAYS", "CAUSE", "COMMENT"}}
			for _, v := range out.Verdicts {
				table = append(table, []string{v.Question, v.Judge, string(v.Says), string(v.Cause), clip(v.Comment, 40)})
			}
			p.table(table)
			for _, a := range out.Agreements {
				p.printf("\n%s and %s agree on %.0f %% of %s (Cohen's κ = %.2f).\n", a.Judges[0], a.Judges[1], 100*a.Agreed, plural(a.Both, "answer"), a.Kappa)
			}
			return nil
		},
	}
}
