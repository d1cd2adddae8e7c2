package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"jardinet/api"
)

func (p *program) changesCommand() *cobra.Command {
	var in, since string
	cmd := &cobra.Command{
		Use:   "changes DOCUMENT --since EARLIER",
		Short: "Show what a new edition says otherwise: lines added, dropped and changed, number by number",
		Long: `Show what a document says otherwise than an earlier one: the lines that were changed, added
and dropped, with the numbers that are others. The earlier one is another document, or, by
its id, an earlier version (see "jardinet documents --versions").`,
		Example: "  jardinet changes quarantine-policy-2024.pdf --since quarantine-policy-2021.pdf --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			if since == "" {
				return fmt.Errorf("name the earlier document with --since")
			}
			out, err := c.Changes(cmd.Context(), in, since, args[0])
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			p.printChanges(out)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringVar(&since, "since", "", "name or id of the earlier document")
	return cmd
}

func (p *program) printChanges(all *api.Changes) {
	columns, _ := width(p.out)
	line := func(sign string, q *api.Quote) {
		p.printf("%s\n", wrap(fmt.Sprintf("%s (page %d)", q.Text, q.Page), sign+" ", "  ", columns))
	}
	for _, c := range all.Changes {
		switch {
		case c.Before == nil:
			line(p.paint(bold, "+"), c.After)
		case c.After == nil:
			line(p.paint(bold, "-"), c.Before)
		default:
			line(" ", c.Before)
			line(p.paint(bold, ">"), c.After)
			for _, f := range c.Figures {
				p.printf("    %s instead of %s\n", p.paint(ochre, f.After), f.Before)
			}
		}
	}
	p.printf("%s between %s and %s.\n", plural(len(all.Changes), "difference"), all.Before, all.After)
}

func (p *program) summaryCommand() *cobra.Command {
	var in, length string
	var scope api.Scope
	cmd := &cobra.Command{
		Use:     "summary [DOCUMENT…]",
		Short:   "Sum up a collection, or some of its documents, in their own sentences",
		Example: "  jardinet summary --in halvern\n  jardinet summary seed-vault-manual.pdf staff-handbook.pdf --length page",
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			scope.Documents = args
			all, err := c.Summary(cmd.Context(), in, length, scope)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"sentences": all})
			}
			columns, _ := width(p.out)
			for _, q := range all {
				p.printf("%s\n", wrap(fmt.Sprintf("%s (%s, page %d)", q.Text, q.Document, q.Page), "• ", "  ", columns))
			}
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringVar(&length, "length", "short", "short, or page")
	cmd.Flags().StringArrayVar(&scope.Tags, "tag", nil, "documents with this tag alone (repeatable)")
	return cmd
}
