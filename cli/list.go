package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"jardinet/api"
)

func (p *program) listCommand() *cobra.Command {
	var in string
	var csv bool
	var scope api.Scope
	cmd := &cobra.Command{
		Use:   "list KIND [DOCUMENT…]",
		Short: "List all that the documents have of a kind, with a page each",
		Long: `List all that the documents have of a kind, such as houses, forms or fault codes, with the
page where each stands first. Every sentence and row is looked through: for columns and
tables that are called so, for what is listed behind a colon, and for names such as "Palm
House" or "form V4". So it is complete as far as things are called by the kind.`,
		Example: "  jardinet list houses --in halvern\n  jardinet list \"fault codes\" seed-vault-manual.pdf --csv",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			scope.Documents = args[1:]
			out, err := c.List(cmd.Context(), in, args[0], scope)
			switch {
			case err != nil:
				return err
			case p.json:
				return p.printJSON(out)
			case csv:
				p.printf("%s", out.CSV())
				return nil
			}
			rows := [][]string{{"WHAT", "WHERE", "FOUND BY"}}
			for _, i := range out.Items {
				rows = append(rows, []string{i.Text, fmt.Sprintf("%s, page %d", i.Quote.Document, i.Quote.Page), i.Way})
			}
			if len(out.Items) > 0 {
				p.table(rows)
			}
			p.printf("%s, of %s in %s looked through.\n", plural(len(out.Items), "item"), plural(out.Lines, "line"), plural(out.Documents, "document"))
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().BoolVar(&csv, "csv", false, "as CSV")
	cmd.Flags().StringArrayVar(&scope.Tags, "tag", nil, "documents with this tag alone (repeatable)")
	return cmd
}
