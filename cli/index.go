package cli

import (
	"fmt"
	"time"

	"github.com/spf13/cobra"
)

func (p *program) indexCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "index",
		Short: "Check a collection's index, or make it anew",
	}
	cmd.AddCommand(p.indexCheck(), p.indexRebuild())
	return cmd
}

func (p *program) indexCheck() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:   "check",
		Short: "Read the whole index and tell what is wrong with it",
		Long: `Read the whole index: checksums, the order of terms, bounds of postings and
passages, and whether it holds what the store has as ready.`,
		Example: "  jardinet index check --in halvern",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			passages, began := 0, time.Now()
			problems, err := c.CheckIndex(cmd.Context(), in, func(done, all int) {
				passages = all
				p.progress("Checked", done, all, "passages")
			})
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"passages": passages, "problems": problems})
			}
			for _, problem := range problems {
				p.printf("%s\n", p.paint(red, problem))
			}
			if len(problems) > 0 {
				return fmt.Errorf("the index of %s is damaged; make it anew with: jardinet index rebuild --in %s", in, in)
			}
			p.printf("The index of %s is sound: %d passages in %s.\n", in, passages, time.Since(began).Round(time.Millisecond))
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) indexRebuild() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "rebuild",
		Short:   "Make the index anew from the kept pages",
		Long:    "Make the index anew from the kept pages, beside the one in use, which answers until the new one is whole.",
		Example: "  jardinet index rebuild --in halvern",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			out, err := c.RebuildIndex(cmd.Context(), in, func(done, all int) { p.progress("Cut", done, all, "documents") })
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			p.printf("The index of %s was rebuilt: %d passages.\n", in, out.Passages)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

// progress shows on a terminal how far something is.
func (p *program) progress(what string, done, all int, of string) {
	if _, terminal := width(p.out); !terminal || p.json {
		return
	}
	p.printf("\r%s %d of %d %s", what, done, all, of)
	if done == all {
		p.printf("\n")
	}
}
