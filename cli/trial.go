package cli

import (
	"cmp"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/passage"
	"jardinet/rank"
)

func (p *program) trialCommand() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:   "trial",
		Short: "Try another set-up beside the live one: make, ask, promote, drop, put back",
		Long: `Try another set-up beside the live one: how passages are cut, what they are found by, how
many are read, how sure an answer has to be. A trial has an index of its own over the
same pages and changes nothing for readers until it is promoted. Without a further word,
show the set-up in use, the trials, and the set-ups that were in use.`,
		Example: `  jardinet trial make longer --target 180 --in halvern
  jardinet measure everyday --trial longer --in halvern
  jardinet trial promote longer --in halvern`,
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			all, err := c.Setups(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(all)
			}
			table := [][]string{{"SET-UP", "STATE", "PASSAGES", "WHAT"}, {"live", "in use", "", inWords(&all.Live)}}
			for _, t := range all.Trials {
				state, passages := "being made", ""
				if t.Ready {
					state, passages = "ready", strconv.Itoa(t.Passages)
				}
				if t.Outdated {
					state = "outdated"
				}
				table = append(table, []string{t.Name, state, passages, inWords(&t.Setup)})
			}
			for _, past := range all.Past {
				table = append(table, []string{"version " + strconv.Itoa(past.Version), "until " + past.Since.Local().Format("2006-01-02 15:04"), "", inWords(&past.Setup)})
			}
			p.table(table)
			return nil
		},
	}
	cmd.PersistentFlags().StringVar(&in, "in", "", "collection")
	cmd.AddCommand(p.trialMake(&in), p.trialAsk(&in), p.trialPromote(&in), p.trialDrop(&in), p.trialBack(&in))
	return cmd
}

// inWords says what a set-up is.
func inWords(s *api.Setup) string {
	r := s.Recipe
	out := []string{fmt.Sprintf("passages of %d words by %s", r.Passage.Target, cmp.Or(string(r.Passage.Cut), "structure"))}
	if r.Passage.Overlap > 0 {
		out = append(out, fmt.Sprintf("%d repeated", r.Passage.Overlap))
	}
	out = append(out, "found by "+strings.ReplaceAll(cmp.Or(string(r.Retrieval), "both"), "both", "words and meaning"))
	if s.Passages > 0 {
		out = append(out, fmt.Sprintf("%d read", s.Passages))
	}
	if s.Certain > 0 {
		out = append(out, fmt.Sprintf("answers from %.2f", s.Certain))
	}
	return strings.Join(out, ", ")
}

func (p *program) trialMake(in *string) *cobra.Command {
	var target, overlap, passages int
	var cut, retrieval string
	var certain float64
	cmd := &cobra.Command{
		Use:     "make NAME",
		Short:   "Make an index by another set-up; what is not said is as in the live one",
		Example: "  jardinet trial make longer --target 180\n  jardinet trial make by-words --retrieval words --certain 0.5",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			all, err := c.Setups(cmd.Context(), *in)
			if err != nil {
				return err
			}
			setup := all.Live
			changed := cmd.Flags().Changed
			if changed("cut") {
				setup.Recipe.Passage.Cut = passage.Cut(cut)
			}
			if changed("target") {
				setup.Recipe.Passage.Target = target
				setup.Recipe.Passage.Overlap = min(setup.Recipe.Passage.Overlap, target/2)
			}
			if changed("overlap") {
				setup.Recipe.Passage.Overlap = overlap
			}
			if changed("retrieval") {
				setup.Recipe.Retrieval = rank.By(retrieval)
			}
			if changed("passages") {
				setup.Passages = passages
			}
			if changed("certain") {
				setup.Certain = certain
			}
			j, err := c.Try(cmd.Context(), *in, args[0], setup)
			if err != nil {
				return err
			}
			if _, err := c.Await(cmd.Context(), j, p.jobProgress); err != nil {
				return err
			}
			p.printf("%s is ready: %s. Measure it with: jardinet measure SET --trial %s\n", p.paint(bold, args[0]), inWords(&setup), args[0])
			return nil
		},
	}
	f := cmd.Flags()
	f.StringVar(&cut, "cut", "", "cut passages by structure, words or page")
	f.IntVar(&target, "target", 0, "words of a passage")
	f.IntVar(&overlap, "overlap", 0, "words repeated at the start of the next passage")
	f.StringVar(&retrieval, "retrieval", "", "find passages by words, meaning or both")
	f.IntVar(&passages, "passages", 0, "passages that are read for an answer")
	f.Float64Var(&certain, "certain", 0, "confidence from which an answer is given, 0 to 1")
	return cmd
}

func (p *program) trialAsk(in *string) *cobra.Command {
	return &cobra.Command{
		Use:     "ask NAME QUESTION",
		Short:   "Ask a trial and the live set-up one question, and show both answers",
		Example: "  jardinet trial ask longer 'How long may seed stay out of the cold store?'",
		Args:    cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			answers := map[string]any{}
			for _, name := range []string{"live", args[0]} {
				a, err := c.AskTrial(cmd.Context(), *in, name, api.Ask{Question: args[1]})
				if err != nil {
					return err
				}
				if answers[name] = a; p.json {
					continue
				}
				p.printf("%s (%.2f)\n", p.paint(bold, name), a.Confidence)
				p.printf("%s\n", wrap(oneLine(cmp.Or(a.Short, a.Text)), "  ", "  ", 80))
				for _, cite := range a.Citations {
					p.printf("  [%d] %s, page %d\n", cite.Number, cite.Document, cite.Page)
				}
			}
			if p.json {
				return p.printJSON(answers)
			}
			return nil
		},
	}
}

func (p *program) trialPromote(in *string) *cobra.Command {
	return &cobra.Command{
		Use:     "promote NAME",
		Short:   "Make a trial's set-up the live one",
		Example: "  jardinet trial promote longer",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			live, err := c.Promote(cmd.Context(), *in, args[0])
			if err != nil {
				return err
			}
			p.printf("%s is live now: %s. The set-up before can be put back; see: jardinet trial\n", p.paint(bold, args[0]), inWords(live))
			return nil
		},
	}
}

func (p *program) trialDrop(in *string) *cobra.Command {
	return &cobra.Command{
		Use:     "drop NAME",
		Short:   "Drop a trial with its index",
		Example: "  jardinet trial drop longer",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			return c.DropTrial(cmd.Context(), *in, args[0])
		},
	}
}

func (p *program) trialBack(in *string) *cobra.Command {
	return &cobra.Command{
		Use:     "back VERSION",
		Short:   "Make an earlier set-up the live one again",
		Example: "  jardinet trial back 1",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			version, err := strconv.Atoi(args[0])
			if err != nil {
				return errors.New("the version is a number; see: jardinet trial")
			}
			c, err := p.connect(cmd.Context(), in)
			if err != nil {
				return err
			}
			live, err := c.PutBack(cmd.Context(), *in, version)
			if err != nil {
				return err
			}
			p.printf("Live again: %s.\n", inWords(live))
			return nil
		},
	}
}
