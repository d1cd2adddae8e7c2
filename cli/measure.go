package cli

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
	"jardinet/measure"
)

// A gate is what a measurement has to reach.
type gate struct {
	require []string
	against string
	noWorse bool
	junit   string
}

func (p *program) measureCommand() *cobra.Command {
	var in, trial string
	var part client.Part
	var g gate
	var rows bool
	cmd := &cobra.Command{
		Use:   "measure SET | FILE",
		Short: "Ask every question of a set and tell how right the answers are",
		Long: `Ask every question of a set and compare the answers, the cited pages and the
refusals with what the set expects. The set is a kept one (see "jardinet questions"),
or a file (JSON Lines or CSV). The collection's style holds (how sure an answer has to
be, how long it is), but no outside model is asked, and a lesson in the same words as a
question is left out for it. The measurement is kept; "jardinet measurements" lists and
shows what was measured before.

With --require or --no-worse the command fails if the figures are not what they should
be, so that a build server stops: figures are page_recall@1, @3, @5 and @10, mrr@10,
ndcg@10, short_answer_right, right_page_cited, citations_that_prove, refusals_right,
refusals_wrong, wrong_of_those_given and as_they_should.`,
		Example: `  jardinet measure demo/questions.jsonl --in halvern
  jardinet measure everyday --trial longer-passages --in halvern
  jardinet measure everyday --require 'page_recall@5>=0.95' --require 'refusals_wrong<=0.03' --against QX3M7KZT2ABCD --no-worse --junit accuracy.xml`,
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			requirements, err := g.requirements()
			if err != nil {
				return err
			}
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			m, err := p.measured(cmd.Context(), c, in, args[0], part, trial)
			if err != nil {
				return err
			}
			if err := p.printMeasurement(m, rows); err != nil {
				return err
			}
			return p.hold(cmd.Context(), c, m, &g, requirements)
		},
	}
	f := cmd.Flags()
	f.StringVar(&in, "in", "", "collection")
	f.StringVar(&trial, "trial", "", "measure this trial in the place of the live set-up")
	partFlags(cmd, &part)
	f.BoolVar(&rows, "rows", false, "print a row for each question too")
	f.StringArrayVar(&g.require, "require", nil, "figure that has to be reached, such as 'page_recall@5>=0.95' (repeatable)")
	f.StringVar(&g.against, "against", "", "earlier measurement to compare with")
	f.BoolVar(&g.noWorse, "no-worse", false, "fail if a figure is significantly worse than in --against")
	f.StringVar(&g.junit, "junit", "", "file to write what was required and each question to, as JUnit XML")
	return cmd
}

func partFlags(cmd *cobra.Command, part *client.Part) {
	f := cmd.Flags()
	f.IntVar(&part.Version, "version-of-set", 0, "version of a kept set; 0 for the newest")
	f.StringVar(&part.Split, "split", "", "only questions of this split of a kept set")
	f.StringVar(&part.Tag, "tag", "", "only questions of a kept set with this tag")
}

// measured measures with a file if there is one of that name, else with a kept set.
func (p *program) measured(ctx context.Context, c *client.Client, in, set string, part client.Part, trial string) (*measure.Measurement, error) {
	data, err := os.ReadFile(set)
	switch {
	case err == nil && part != (client.Part{}):
		return nil, errors.New("--split, --tag and --version-of-set are for kept sets; keep the file first with: jardinet questions import")
	case err == nil:
		return c.Measure(ctx, in, filepath.Base(set), data, trial, p.jobProgress)
	case !errors.Is(err, os.ErrNotExist) || strings.ContainsAny(set, "/\\") || strings.HasSuffix(set, ".jsonl") || strings.HasSuffix(set, ".csv"):
		return nil, err
	}
	return c.MeasureKept(ctx, in, set, part, trial, p.jobProgress)
}

// jobProgress shows how far a job is.
func (p *program) jobProgress(j *api.Job) {
	if j.State == api.Running {
		p.progress(capitalised(j.What)+":", j.Done, j.Of, "done")
	}
}

func capitalised(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

func (g *gate) requirements() ([]measure.Requirement, error) {
	var out []measure.Requirement
	for _, s := range g.require {
		r, err := measure.ParseRequirement(s)
		if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	if g.noWorse && g.against == "" {
		return nil, errors.New("--no-worse needs a measurement to compare with: --against ID")
	}
	return out, nil
}

// hold tells whether a measurement is what it should be, and fails if not.
func (p *program) hold(ctx context.Context, c *client.Client, m *measure.Measurement, g *gate, requirements []measure.Requirement) error {
	checks := []measure.Verification{}
	for _, r := range requirements {
		checks = append(checks, r.Holds(m))
	}
	if g.against != "" {
		comparison, err := c.Compare(ctx, g.against, m.ID)
		if err != nil {
			return err
		}
		if !p.json {
			p.printf("\n")
			p.printComparison(comparison)
		}
		if g.noWorse {
			checks = append(checks, comparison.NoWorse()...)
		}
	}
	if g.junit != "" {
		var out bytes.Buffer
		if err := measure.WriteJUnit(&out, m, checks); err != nil {
			return err
		}
		if err := os.WriteFile(g.junit, out.Bytes(), 0o644); err != nil {
			return err
		}
	}
	failed := 0
	for _, v := range checks {
		if !v.Held {
			failed++
			fmt.Fprintf(p.err, "Not held: %s; %s\n", v.Required, v.Reason)
		}
	}
	if failed > 0 {
		return fmt.Errorf("%d of %s not held", failed, plural(len(checks), "requirement"))
	}
	if len(checks) > 0 && !p.json {
		p.printf("\nAll held: %s.\n", plural(len(checks), "requirement"))
	}
	return nil
}

func (p *program) printMeasurement(m *measure.Measurement, rows bool) error {
	if p.json {
		return p.printJSON(m)
	}
	taught := ""
	if m.Subject.Lessons > 0 {
		taught = ", " + plural(m.Subject.Lessons, "lesson")
	}
	on := m.Subject.Collection
	if m.Subject.Setup != "live" {
		on += ", trial " + m.Subject.Setup
	}
	p.printf("%s on %s: %s, %s, %s%s\n\n", p.paint(bold, m.Set.Name), p.paint(bold, on),
		plural(m.Set.Questions, "question"), plural(m.Subject.Documents, "document"), plural(m.Subject.Pages, "page"), taught)
	table := [][]string{{"FIGURE", "VALUE", "95 % INTERVAL", "OVER"}}
	for _, f := range m.Figures {
		table = append(table, []string{f.Name, fmt.Sprintf("%.3f", f.Value), fmt.Sprintf("%.3f – %.3f", f.Low, f.High), strconv.Itoa(f.Questions)})
	}
	p.table(table)
	p.printf("\n")
	p.table(tagTable(m))
	p.printf("\n")
	if len(m.Causes) > 0 {
		table = [][]string{{"LOST WHERE", "QUESTIONS"}}
		for _, c := range measure.Causes {
			if n := m.Causes[c]; n > 0 {
				table = append(table, []string{string(c), strconv.Itoa(n)})
			}
		}
		p.table(table)
		p.printf("\n")
	}
	if tag, share, n := m.Weakest(leastOfKind); tag != "" {
		p.printf("Weakest kind: %s, of whose %s %.3f come out as they should.\n\n", p.paint(bold, tag), plural(n, "question"), share)
	}
	table = [][]string{{"STAGE", "P50 MS", "P95 MS", "P99 MS"}}
	for _, s := range m.Stages {
		table = append(table, []string{s.Name, fmt.Sprintf("%.2f", s.P50), fmt.Sprintf("%.2f", s.P95), fmt.Sprintf("%.2f", s.P99)})
	}
	p.table(table)
	if rows {
		p.printf("\n")
		table = [][]string{{"ID", "OUTCOME", "CAUSE", "RANK", "CONFIDENCE", "QUESTION"}}
		for _, r := range m.Records {
			table = append(table, []string{r.ID, r.Outcome, cmp.Or(string(r.Cause), "–"), strconv.Itoa(r.Rank), fmt.Sprintf("%.2f", r.Confidence), clip(r.Question, 70)})
		}
		p.table(table)
	}
	p.printf("\nKept as %s; a row a question: jardinet measurements %s --rows\n", m.ID, m.ID)
	return nil
}

// leastOfKind is how many questions a kind has to have to be called the weakest.
const leastOfKind = 5

// tagTable sets the figures side by side for each tag.
func tagTable(m *measure.Measurement) [][]string {
	names := []string{measure.Recall5, measure.MRR10, measure.Accepted, measure.Proved, measure.RefusedWell, measure.RefusedBad}
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
	var rows, judged, remove bool
	cmd := &cobra.Command{
		Use:     "measurements [ID]",
		Short:   "List the kept measurements, or show or remove one",
		Example: "  jardinet measurements --in halvern\n  jardinet measurements QX3M7KZT2ABCD --rows\n  jardinet measurements QX3M7KZT2ABCD --judged",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			if len(args) == 1 && remove {
				return c.RemoveMeasurement(cmd.Context(), args[0])
			}
			if len(args) == 1 {
				m, err := c.Measurement(cmd.Context(), args[0], judged)
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
	cmd.Flags().BoolVar(&judged, "judged", false, "with ID: the figures as people judged the answers")
	cmd.Flags().BoolVar(&remove, "remove", false, "with ID: remove it, with people's verdicts on it")
	return cmd
}

func (p *program) printMeasurements(all []measure.Measurement) error {
	if len(all) == 0 {
		p.printf("Nothing measured yet. Measure with: jardinet measure QUESTIONS --in COLLECTION\n")
		return nil
	}
	rows := [][]string{{"ID", "WHEN", "COLLECTION", "SET-UP", "SET", "RECALL@5", "RIGHT WITH PAGE", "REFUSALS RIGHT", "REFUSALS WRONG"}}
	for _, m := range all {
		row := []string{m.ID, m.Created.Local().Format("2006-01-02 15:04"), m.Subject.Collection, cmp.Or(m.Subject.Setup, "live"), m.Set.Name}
		for _, name := range []string{measure.Recall5, measure.Proved, measure.RefusedWell, measure.RefusedBad} {
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
