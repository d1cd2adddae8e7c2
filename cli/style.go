package cli

import (
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/answer"
)

func (p *program) styleCommand() *cobra.Command {
	var in string
	var set answer.Style
	var model answer.Model
	var plain bool
	cmd := &cobra.Command{
		Use:   "style",
		Short: "Show or change how a collection's answers shall be",
		Long: `Show or change how a collection's answers shall be: how long, what is left out, a
sentence to add. With --model-url an outside model words the answers; each of its
sentences is held to the evidence that it cites. Without any flag the style is
shown. Flags that are not given stay as they are; --plain removes everything.`,
		Example: `  jardinet style --in halvern --statements 1 --add "Ask the duty manager in doubt."
  jardinet style --in halvern --certain 0.6
  jardinet style --in halvern --model-url http://127.0.0.1:7490/v1 --model-name stand-in
  jardinet style --in halvern --plain`,
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			now, err := c.Style(cmd.Context(), in)
			if err != nil {
				return err
			}
			if plain {
				now = &answer.Style{}
			}
			if mergeStyle(cmd, now, &set, &model) || plain {
				if err := c.SetStyle(cmd.Context(), in, now); err != nil {
					return err
				}
			}
			if p.json {
				return p.printJSON(now)
			}
			p.printStyle(now)
			return nil
		},
	}
	f := cmd.Flags()
	f.StringVar(&in, "in", "", "collection")
	f.BoolVar(&plain, "plain", false, "remove everything that was set")
	f.IntVar(&set.Statements, "statements", 0, "most statements of an answer; 0 for three")
	f.StringArrayVar(&set.LeaveOut, "leave-out", nil, "no statement with this text, or under such a heading (repeatable)")
	f.StringVar(&set.Add, "add", "", "a sentence at the end of every answer")
	f.StringVar(&set.Note, "note", "", "wishes on tone and the like, passed on to a model")
	f.Float64Var(&set.Certain, "certain", 0, "how sure an answer has to be, 0 to 1; 0 for what was fitted")
	f.StringVar(&model.URL, "model-url", "", "outside model, such as http://127.0.0.1:8080/v1; \"none\" to do without")
	f.StringVar(&model.Model, "model-name", "", "the model's name")
	f.StringVar(&model.Key, "model-key", "", "name of the secret that is its key (see \"jardinet serve --secret\")")
	f.StringVar(&model.Ungrounded, "ungrounded", "", "what becomes of its sentences that the evidence does not bear: drop or mark")
	f.Float64Var(&model.Seconds, "model-seconds", 0, "how long a reader waits for it; 0 for 20")
	f.IntVar(&model.MostTokens, "model-tokens", 0, "most tokens a day; 0 for no limit")
	return cmd
}

// mergeStyle takes the flags that were given over and tells whether any was.
func mergeStyle(cmd *cobra.Command, now, set *answer.Style, model *answer.Model) bool {
	given := cmd.Flags().Changed
	changed := false
	take := func(flag string, do func()) {
		if given(flag) {
			do()
			changed = true
		}
	}
	take("statements", func() { now.Statements = set.Statements })
	take("leave-out", func() { now.LeaveOut = set.LeaveOut })
	take("add", func() { now.Add = set.Add })
	take("note", func() { now.Note = set.Note })
	take("certain", func() { now.Certain = set.Certain })
	ofModel := func(do func(m *answer.Model)) func() {
		return func() {
			if now.Model == nil {
				now.Model = &answer.Model{}
			}
			do(now.Model)
		}
	}
	take("model-url", ofModel(func(m *answer.Model) { m.URL = model.URL }))
	take("model-name", ofModel(func(m *answer.Model) { m.Model = model.Model }))
	take("model-key", ofModel(func(m *answer.Model) { m.Key = model.Key }))
	take("ungrounded", ofModel(func(m *answer.Model) { m.Ungrounded = model.Ungrounded }))
	take("model-seconds", ofModel(func(m *answer.Model) { m.Seconds = model.Seconds }))
	take("model-tokens", ofModel(func(m *answer.Model) { m.MostTokens = model.MostTokens }))
	if now.Model != nil && now.Model.URL == "none" {
		now.Model = nil
	}
	return changed
}

func (p *program) printStyle(s *answer.Style) {
	statements := "three"
	if s.Statements > 0 {
		statements = fmt.Sprint(s.Statements)
	}
	written := "the program"
	if s.Model != nil {
		written = fmt.Sprintf("%s at %s", s.Model.Model, s.Model.URL)
	}
	certain := "as fitted"
	if s.Certain > 0 {
		certain = fmt.Sprint(s.Certain)
	}
	p.table([][]string{
		{"Sure from", certain}, {"Statements", "at most " + statements}, {"Left out", strings.Join(s.LeaveOut, "; ")}, {"Added", s.Add}, {"Wishes", s.Note}, {"Worded by", written},
	})
}
