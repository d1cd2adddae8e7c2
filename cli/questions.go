package cli

import (
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

func (p *program) questionsCommand() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:   "questions",
		Short: "Keep the questions that prove it still works: import, draft, review, export",
		Long: `Keep question sets in the service: questions with their answers and the pages that prove
them, each change a new version. Without a further word, list the sets.`,
		Example: "  jardinet questions --in halvern\n  jardinet questions import demo/questions.jsonl --to everyday --in halvern\n  jardinet questions draft everyday -n 40 --in halvern",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			sets, err := c.Sets(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"sets": sets})
			}
			if len(sets) == 0 {
				p.printf("No question set is kept yet. Import one with: jardinet questions import FILE --to NAME\n")
				return nil
			}
			table := [][]string{{"NAME", "VERSION", "QUESTIONS", "DRAFTS", "CHANGED"}}
			for _, s := range sets {
				table = append(table, []string{s.Name, strconv.Itoa(s.Version), strconv.Itoa(s.Questions - s.Drafts), strconv.Itoa(s.Drafts), s.Changed.Local().Format("2006-01-02 15:04")})
			}
			p.table(table)
			return nil
		},
	}
	cmd.PersistentFlags().StringVar(&in, "in", "", "collection")
	cmd.AddCommand(p.questionsImport(&in), p.questionsShow(&in), p.questionsExport(&in), p.questionsDraft(&in), p.questionsAccept(&in), p.questionsGather(&in), p.questionsReview(&in), p.questionsRemove(&in))
	return cmd
}

func (p *program) questionsImport(in *string) *cobra.Command {
	var to, qrels string
	var add bool
	cmd := &cobra.Command{
		Use:     "import FILE",
		Short:   "Put the questions of a file (JSON Lines, CSV, or TREC topics with --qrels) into a set",
		Example: "  jardinet questions import questions.csv --to everyday\n  jardinet questions import topics.txt --qrels qrels.txt --to from-trec",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			if to == "" {
				to = strings.ToLower(strings.TrimSuffix(filepath.Base(args[0]), filepath.Ext(args[0])))
			}
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			var set *api.QuestionSet
			if qrels != "" {
				judged, err := os.ReadFile(qrels)
				if err != nil {
					return err
				}
				set, err = c.ImportTREC(cmd.Context(), *in, to, add, data, judged)
				if err != nil {
					return err
				}
			} else {
				as := "jsonl"
				if strings.EqualFold(filepath.Ext(args[0]), ".csv") {
					as = "csv"
				}
				if set, err = c.ImportSet(cmd.Context(), *in, to, as, add, data); err != nil {
					return err
				}
			}
			return p.printSet(set)
		},
	}
	cmd.Flags().StringVar(&to, "to", "", "name of the set (default: that of the file)")
	cmd.Flags().StringVar(&qrels, "qrels", "", "the file is TREC topics, and this one says which pages prove the answers")
	cmd.Flags().BoolVar(&add, "add", false, "keep what the set holds beside; else the file replaces it")
	return cmd
}

func (p *program) printSet(set *api.QuestionSet) error {
	if p.json {
		return p.printJSON(set)
	}
	p.printf("%s, version %d: %s", p.paint(bold, set.Name), set.Version, plural(set.Questions-set.Drafts, "question"))
	if set.Drafts > 0 {
		p.printf(" and %s that nobody has accepted", plural(set.Drafts, "draft"))
	}
	p.printf("\n")
	return nil
}

func (p *program) questionsShow(in *string) *cobra.Command {
	var part client.Part
	cmd := &cobra.Command{
		Use:     "show SET",
		Short:   "Show the questions of a set, or of a part of it",
		Example: "  jardinet questions show everyday --tag table\n  jardinet questions show everyday --drafts",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			set, err := c.Set(cmd.Context(), *in, args[0], part)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(set)
			}
			table := [][]string{{"ID", "TAGS", "QUESTION", "ANSWER"}}
			for _, q := range set.All {
				answer := q.Answer
				if !q.CanBeAnswered() {
					answer = "(not said)"
				}
				if q.Draft {
					q.Question = "(draft) " + q.Question
				}
				table = append(table, []string{q.ID, strings.Join(q.Tags, ", "), clip(q.Question, 60), clip(oneLine(answer), 40)})
			}
			p.table(table)
			return nil
		},
	}
	partFlags(cmd, &part)
	cmd.Flags().BoolVar(&part.Drafts, "drafts", false, "drafts too")
	return cmd
}

func (p *program) questionsExport(in *string) *cobra.Command {
	var part client.Part
	var out, format string
	cmd := &cobra.Command{
		Use:     "export SET",
		Short:   "Write a set to a file: jsonl, csv, or TREC topics and qrels",
		Example: "  jardinet questions export everyday --out everyday.jsonl\n  jardinet questions export everyday --as qrels --out everyday.qrels",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			data, err := c.ExportSet(cmd.Context(), *in, args[0], part, format)
			if err != nil {
				return err
			}
			return p.save(out, data)
		},
	}
	partFlags(cmd, &part)
	cmd.Flags().BoolVar(&part.Drafts, "drafts", false, "drafts too")
	cmd.Flags().StringVar(&out, "out", "", "file to write; standard output if absent")
	cmd.Flags().StringVar(&format, "as", "jsonl", "jsonl, csv, topics or qrels")
	return cmd
}

func (p *program) questionsDraft(in *string) *cobra.Command {
	var n int
	var documents []string
	cmd := &cobra.Command{
		Use:   "draft SET",
		Short: "Propose questions from the documents, for a person to accept, edit or drop",
		Long: `Propose questions from the documents: definitions, figures, cells of tables, steps. Only
those are kept from which the reader comes back to the page that they were made of.
They are drafts, which count in no measurement until somebody accepts them.`,
		Example: "  jardinet questions draft everyday -n 40\n  jardinet questions draft vault -n 10 --document seed-vault-manual.pdf",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			j, err := c.Draft(cmd.Context(), *in, args[0], n, documents)
			if err != nil {
				return err
			}
			if _, err := c.Await(cmd.Context(), j, p.jobProgress); err != nil {
				return err
			}
			set, err := c.Set(cmd.Context(), *in, args[0], client.Part{Drafts: true})
			if err != nil {
				return err
			}
			if err := p.printSet(set); err != nil || p.json {
				return err
			}
			p.printf("Look at them with: jardinet questions show %s --drafts\n", args[0])
			return nil
		},
	}
	cmd.Flags().IntVarP(&n, "questions", "n", 20, "how many")
	cmd.Flags().StringArrayVar(&documents, "document", nil, "only from this document (repeatable)")
	return cmd
}

func (p *program) questionsAccept(in *string) *cobra.Command {
	var all bool
	cmd := &cobra.Command{
		Use:     "accept SET [ID…]",
		Short:   "Accept drafts, so that they count",
		Example: "  jardinet questions accept everyday draft-1f3a9c02 draft-77b0e4d1",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if all == (len(args) > 1) {
				return errors.New("name the drafts to accept, or give --all")
			}
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			set, err := c.Set(cmd.Context(), *in, args[0], client.Part{Drafts: true})
			if err != nil {
				return err
			}
			var accepted []measure.Question
			for _, q := range set.All {
				if q.Draft && (all || slices.Contains(args[1:], q.ID)) {
					q.Draft = false
					accepted = append(accepted, q)
				}
			}
			if !all && len(accepted) != len(args)-1 {
				return fmt.Errorf("%d of these are no drafts of %s; see: jardinet questions show %s --drafts", len(args)-1-len(accepted), args[0], args[0])
			}
			if len(accepted) == 0 {
				return p.printSet(set)
			}
			file, err := (&measure.Set{Questions: accepted}).JSONL()
			if err != nil {
				return err
			}
			if set, err = c.ImportSet(cmd.Context(), *in, args[0], "jsonl", true, file); err != nil {
				return err
			}
			return p.printSet(set)
		},
	}
	cmd.Flags().BoolVar(&all, "all", false, "all drafts of the set")
	return cmd
}

func (p *program) questionsGather(in *string) *cobra.Command {
	var from string
	cmd := &cobra.Command{
		Use:     "gather SET",
		Short:   "Take questions over that people have asked, as drafts",
		Example: "  jardinet questions gather everyday --from reports\n  jardinet questions gather everyday --from conversations",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			set, err := c.Gather(cmd.Context(), *in, args[0], from)
			if err != nil {
				return err
			}
			return p.printSet(set)
		},
	}
	cmd.Flags().StringVar(&from, "from", "reports", "reports (what readers called wrong or missing) or conversations (what is kept)")
	return cmd
}

func (p *program) questionsReview(in *string) *cobra.Command {
	return &cobra.Command{
		Use:     "review SET",
		Short:   "Tell what to look at: evidence that is gone, questions twice, sections without any",
		Example: "  jardinet questions review everyday",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			r, err := c.ReviewSet(cmd.Context(), *in, args[0])
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(r)
			}
			for _, s := range r.Stale {
				p.printf("%s: %s\n", s.Question, s.Problem)
			}
			for _, d := range r.Duplicates {
				p.printf("%s asks nearly the same as %s (%.2f)\n", d.Question, d.Of, d.Alike)
			}
			p.printCoverage(r.Coverage)
			return nil
		},
	}
}

// printCoverage tells of each document how many of its sections no question touches.
func (p *program) printCoverage(all []api.Covered) {
	table := [][]string{{"DOCUMENT", "SECTIONS", "TOUCHED", "FIRST WITHOUT A QUESTION"}}
	for i := 0; i < len(all); {
		document, touched, without := all[i].Document, 0, "–"
		from := i
		for ; i < len(all) && all[i].Document == document; i++ {
			if all[i].Questions > 0 {
				touched++
			} else if without == "–" {
				without = fmt.Sprintf("p. %d %s", all[i].Page, clip(all[i].Section, 40))
			}
		}
		table = append(table, []string{document, strconv.Itoa(i - from), strconv.Itoa(touched), without})
	}
	p.table(table)
}

func (p *program) questionsRemove(in *string) *cobra.Command {
	return &cobra.Command{
		Use:     "remove SET [ID…]",
		Short:   "Take questions out of a set, or remove the whole set",
		Example: "  jardinet questions remove everyday q-014\n  jardinet questions remove everyday",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			if len(args) == 1 {
				return c.RemoveSet(cmd.Context(), *in, args[0])
			}
			var set *api.QuestionSet
			for _, id := range args[1:] {
				if set, err = c.RemoveQuestion(cmd.Context(), *in, args[0], id); err != nil {
					return err
				}
			}
			return p.printSet(set)
		},
	}
}
