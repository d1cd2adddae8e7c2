package cli

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"

	"github.com/spf13/cobra"

	"jardinet/measure"
)

func (p *program) measureCommand() *cobra.Command {
	var in string
	var rows bool
	cmd := &cobra.Command{
		Use:   "measure QUESTIONS",
		Short: "Ask every question of a set and tell how right the answers are",
		Long: `Ask every question of a set (JSON Lines or CSV) and compare the answers, the
cited pages and the refusals with what the set expects. The collection's style holds
(how sure an answer has to be, how long it is), but no outside model is asked, and a
lesson in the same words as a question is left out for it. The
measurement is kept; "jardinet measurements" lists and shows what was measured before.`,
		Example: "  jardinet measure demo/questions.jsonl --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			set, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			m, err := c.Measure(cmd.Context(), in, filepath.Base(args[0]), set)
			if err != nil {
				return err
			}
			return p.printMeasurement(m, rows)
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().BoolVar(&rows, "rows", false, "print a row for each question too")
	return cmd
}

func (p *program) printMeasurement(m *measure.Measurement, rows bool) error {
	if p.json {
		return p.printJSON(m)
	}
	taught := ""
	if m.Subject.Lessons > 0 {
		taught = ", " + plural(m.Subject.Lessons, "lesson")
	}
	p.printf("%s on %s: %s, %s, %s%s\n\n", p.paint(bold, m.Set.Name), p.paint(bold, m.Subject.Collection),
		plural(m.Set.Questions, "question"), plural(m.Subject.Documents, "document"), plural(m.Subject.Pages, "page"), taught)
	table := [][]string{{"FIGURE", "VALUE", "95 % INTERVAL", "OVER"}}
	for _, f := range m.Figures {
		table = append(table, []string{f.Name, fmt.Sprintf("%.3f", f.Value), fmt.Sprintf("%.3f – %.3f", f.Low, f.High), strconv.Itoa(f.Questions)})
	}
	p.table(table)
	p.printf("\n")
	p.table(tagTable(m))
	p.printf("\n")
	table = [][]string{{"STAGE", "P50 MS", "P95 MS", "P99 MS"}}
	for _, s := range m.Stages {
		table = append(table, []string{s.Name, fmt.Sprintf("%.2f", s.P50), fmt.Sprintf("%.2f", s.P95), fmt.Sprintf("%.2f", s.P99)})
	}
	p.table(table)
	if rows {
		p.printf("\n")
		table = [][]string{{"ID", "OUTCOME", "RANK", "CONFIDENCE", "QUESTION"}}
		for _, r := range m.Records {
			table = append(table, []string{r.ID, r.Outcome, strconv.Itoa(r.Rank), fmt.Sprintf("%.2f", r.Confidence), clip(r.Question, 70)})
		}
		p.table(table)
	}
	p.printf("\nKept as %s; a row a question: jardinet measurements %s --rows\n", m.ID, m.ID)
	return nil
}

// tagTable sets the figures side by side for each tag.
func tagTable(m *measure.Measurement) [][]string {
	names := []string{measure.Recall1, measure.Recall5, measure.MRR10, measure.Accepted, measure.Precision, measure.RefusedWell}
	rows := [][]string{append([]string{"KIND", "QUESTIONS"}, names...)}
	tags := make([]string, 0, len(m.ByTag))
	for tag := range m.ByTag {
		tags = append(tags, tag)
	}
	slices.Sort(tags)
	for _, tag := range tags {
		n := 0
		for _, r := range m.Records {
			if slices.Contains(r.Tags, tag) {
				n++
			}
		}
		row := []string{tag, strconv.Itoa(n)}
		for _, name := range names {
			cell := "–"
			for _, f := range m.ByTag[tag] {
				if f.Name == name {
					cell = fmt.Sprintf("%.2f", f.Value)
				}
			}
			row = append(row, cell)
		}
		rows = append(rows, row)
	}
	return rows
}

func (p *program) measurementsCommand() *cobra.Command {
	var in string
	var rows bool
	cmd := &cobra.Command{
		Use:     "measurements [ID]",
		Short:   "List the kept measurements, or show one again",
		Example: "  jardinet measurements --in halvern\n  jardinet measurements QX3M7KZT2ABCD --rows",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			if len(args) == 1 {
				m, err := c.Measurement(cmd.Context(), args[0])
				if err != nil {
					return err
				}
				return p.printMeasurement(m, rows)
			}
			all, err := c.Measurements(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"measurements": all})
			}
			return p.printMeasurements(all)
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection (default: all)")
	cmd.Flags().BoolVar(&rows, "rows", false, "with ID: print a row for each question too")
	return cmd
}

func (p *program) printMeasurements(all []measure.Measurement) error {
	if len(all) == 0 {
		p.printf("Nothing measured yet. Measure with: jardinet measure QUESTIONS --in COLLECTION\n")
		return nil
	}
	rows := [][]string{{"ID", "WHEN", "COLLECTION", "STATE", "SET", "RECALL@5", "ACCEPTED", "REFUSED RIGHT"}}
	for _, m := range all {
		row := []string{m.ID, m.Created.Local().Format("2006-01-02 15:04"), m.Subject.Collection, m.Subject.State[:8], m.Set.Name}
		for _, name := range []string{measure.Recall5, measure.Accepted, measure.RefusedWell} {
			cell := "–"
			for _, f := range m.Figures {
				if f.Name == name {
					cell = fmt.Sprintf("%.3f", f.Value)
				}
			}
			row = append(row, cell)
		}
		rows = append(rows, row)
	}
	p.table(rows)
	return nil
}
