package cli

import (
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
)

func (p *program) sweepCommand() *cobra.Command {
	var in string
	var plan api.SweepPlan
	var list bool
	cmd := &cobra.Command{
		Use:   "sweep SET",
		Short: "Try many set-ups with a question set and say which is best",
		Long: `Try every combination of the values given, or as many of them, drawn by chance, as fit
into the time. Set-ups that can hardly be the best any more are given up early. The best
is told with its figure on questions about documents that it was not chosen by (the
choice is made anew for each fifth of the documents), so that what is told does not
flatter. Nothing changes for readers; make a trial of the best and measure it.`,
		Example: "  jardinet sweep everyday --target 60,100,160 --retrieval words,both --passages 8,16 --minutes 5 --in halvern\n  jardinet sweep --list --in halvern",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			id := ""
			switch {
			case list == (len(args) == 1):
				return fmt.Errorf("name a question set, or give --list to see what was swept")
			case !list:
				plan.Set = args[0]
				j, err := c.Sweep(cmd.Context(), in, plan)
				if err != nil {
					return err
				}
				if id, err = c.Await(cmd.Context(), j, p.jobProgress); err != nil {
					return err
				}
			}
			all, err := c.Sweeps(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"sweeps": all})
			}
			for i := range all {
				if id == "" || all[i].ID == id {
					p.printSweep(&all[i])
				}
			}
			return nil
		},
	}
	f := cmd.Flags()
	f.StringVar(&in, "in", "", "collection")
	f.BoolVar(&list, "list", false, "show the sweeps that were made")
	f.StringSliceVar(&plan.Cuts, "cut", nil, "ways to cut passages: structure, words, page")
	f.IntSliceVar(&plan.Targets, "target", nil, "words of a passage")
	f.IntSliceVar(&plan.Overlaps, "overlap", nil, "words repeated at the start of the next passage")
	f.StringSliceVar(&plan.Retrieval, "retrieval", nil, "what passages are found by: words, meaning, both")
	f.IntSliceVar(&plan.Passages, "passages", nil, "passages that are read for an answer")
	f.Float64SliceVar(&plan.Certain, "certain", nil, "confidences from which answers are given")
	f.Float64Var(&plan.Minutes, "minutes", 10, "how long it may take")
	f.StringVar(&plan.Figure, "figure", "", "figure to be best in, such as right_page_cited; the share that comes out as it should if absent")
	f.Uint64Var(&plan.Seed, "seed", 0, "for another draw of the combinations")
	return cmd
}

// shownOfSweep is how many of the set-ups tried are printed, beside those that are worth a look.
const shownOfSweep = 8

func (p *program) printSweep(s *api.Sweep) {
	p.printf("%s with %s, by %s\n\n", p.paint(bold, s.ID), s.Plan.Set, s.Honest.Name)
	table := [][]string{{"", strings.ToUpper(s.Honest.Name), "95 % INTERVAL", "P50 MS", "PASSAGES", "SET-UP"}}
	row := func(mark string, t *api.Tried) {
		value, interval := fmt.Sprintf("%.3f", t.Figure.Value), fmt.Sprintf("%.3f – %.3f", t.Figure.Low, t.Figure.High)
		if t.Stopped {
			interval = fmt.Sprintf("given up after %d", t.Questions)
		}
		table = append(table, []string{mark, value, interval, fmt.Sprintf("%.0f", t.P50), fmt.Sprint(t.Passages), inWords(&t.Setup)})
	}
	row("live", &s.Live)
	for i := range s.Tried {
		if i >= shownOfSweep && !s.Tried[i].Frontier {
			continue
		}
		mark := ""
		if s.Tried[i].Frontier {
			mark = "*"
		}
		row(mark, &s.Tried[i])
	}
	p.table(table)
	p.printf("\n* nothing tried is both better and quicker. %d tried; %d given up early, %d left out for lack of time.\n", len(s.Tried), s.Stopped, s.Skipped)
	p.printf("On questions about documents that the choice was not made by: %.3f (%.3f – %.3f).\n", s.Honest.Value, s.Honest.Low, s.Honest.High)
	switch {
	case s.Best < 0:
		p.printf("Nothing tried is better than the live set-up.\n")
	case s.P >= 0.05:
		p.printf("The best is not surely better than the live set-up (p = %.3f).\n", s.P)
	default:
		p.printf("The best is better than the live set-up (p = %.3f).\n", s.P)
	}
}

func (p *program) remeasureCommand() *cobra.Command {
	var in string
	var w api.Watch
	cmd := &cobra.Command{
		Use:   "remeasure [SET]",
		Short: "Have a collection measured after each change of its documents",
		Long: `Have a collection measured with a question set whenever its documents have changed and
come to rest. If a figure is less than is required, or significantly worse than before,
that is logged, listed here, and sent to a webhook that whoever runs the service has named
(jardinet serve --webhook NAME=ADDRESS). Without a set, show what is set and the alerts.`,
		Example: "  jardinet remeasure everyday --require 'right_page_cited>=0.6' --in halvern\n  jardinet remeasure --off --in halvern",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			var now *api.Watch
			if len(args) == 0 && !w.Off {
				now, err = c.Watch(cmd.Context(), in)
			} else {
				if len(args) == 1 {
					w.Set = args[0]
				}
				now, err = c.SetWatch(cmd.Context(), in, w)
			}
			if err != nil {
				return err
			}
			return p.printWatch(in, now)
		},
	}
	f := cmd.Flags()
	f.StringVar(&in, "in", "", "collection")
	f.StringArrayVar(&w.Require, "require", nil, "figure that has to be reached (repeatable)")
	f.StringVar(&w.Webhook, "webhook", "", "name of the webhook that is told")
	f.BoolVar(&w.Off, "off", false, "stop")
	return cmd
}

func (p *program) printWatch(in string, w *api.Watch) error {
	if p.json {
		return p.printJSON(w)
	}
	if w.Off || w.Set == "" {
		p.printf("%s is not measured after changes.\n", in)
	} else {
		p.printf("%s is measured with %s after each change. %s\n", in, p.paint(bold, w.Set), strings.Join(w.Require, ", "))
	}
	for _, a := range w.Alerts {
		p.printf("%s  measurement %s: %s\n", a.At.Local().Format("2006-01-02 15:04"), a.Measurement, strings.Join(a.Reasons, "; "))
	}
	return nil
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }
