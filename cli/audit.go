package cli

import (
	"fmt"
	"net/url"
	"strconv"

	"github.com/spf13/cobra"
)

func (p *program) auditCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "audit",
		Short: "See who did what",
		Long: `See who did what: each change, each document taken out, each question (its words
only where the collection keeps them), and each attempt that was refused. Each
entry holds the hash of the one before it, so that a changed one shows.`,
	}
	cmd.AddCommand(p.auditList(), p.auditExport(), p.auditVerify())
	return cmd
}

// auditFlags are which entries are meant.
func auditFlags(cmd *cobra.Command) func() url.Values {
	var who, operation, collection, since string
	cmd.Flags().StringVar(&who, "who", "", "only what this person or key did")
	cmd.Flags().StringVar(&operation, "operation", "", "only this operation, by its name in the API's description")
	cmd.Flags().StringVar(&collection, "in", "", "only in this collection")
	cmd.Flags().StringVar(&since, "since", "", "only from this day on, such as 2026-11-29")
	return func() url.Values {
		out := url.Values{}
		for name, value := range map[string]string{"who": who, "operation": operation, "collection": collection, "since": since} {
			if value != "" {
				out.Set(name, value)
			}
		}
		return out
	}
}

func (p *program) auditList() *cobra.Command {
	var top int
	cmd := &cobra.Command{
		Use:     "list",
		Short:   "List the latest entries",
		Example: "  jardinet audit list --who gwen --since 2026-11-01",
		Args:    cobra.NoArgs,
	}
	which := auditFlags(cmd)
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		c, err := p.client()
		if err != nil {
			return err
		}
		values := which()
		values.Set("top", strconv.Itoa(top))
		all, err := c.Audit(cmd.Context(), values)
		if err != nil {
			return err
		}
		if p.json {
			return p.printJSON(map[string]any{"entries": all})
		}
		rows := [][]string{{"NO.", "WHEN", "WHO", "FROM", "DID", "IN", "ON", "OUTCOME"}}
		for _, e := range all {
			who := e.Who
			if who == "" {
				who = "(" + string(e.Kind) + ")"
			}
			rows = append(rows, []string{
				strconv.FormatInt(e.Number, 10), e.At.Local().Format("2006-01-02 15:04:05"), who, e.Address, e.Operation, e.Collection,
				clip(e.Object+e.Question, 40), strconv.Itoa(e.Outcome),
			})
		}
		p.table(rows)
		return nil
	}
	cmd.Flags().IntVar(&top, "top", 30, "how many")
	return cmd
}

func (p *program) auditExport() *cobra.Command {
	cmd := &cobra.Command{
		Use:     "export",
		Short:   "Write the entries as JSON Lines, in order",
		Example: "  jardinet audit export --since 2026-01-01 > audit.jsonl",
		Args:    cobra.NoArgs,
	}
	which := auditFlags(cmd)
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		c, err := p.client()
		if err != nil {
			return err
		}
		return c.ExportAudit(cmd.Context(), which(), p.out)
	}
	return cmd
}

func (p *program) auditVerify() *cobra.Command {
	return &cobra.Command{
		Use:   "verify",
		Short: "Check that no entry was changed or taken out",
		Long: `Check that no entry was changed, taken out or put in between. The number and hash
of the last entry are printed: written down elsewhere, they show later whether the
end was cut off.`,
		Example: "  jardinet audit verify",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			out, err := c.VerifyAudit(cmd.Context())
			if err != nil {
				return err
			}
			if p.json {
				if err := p.printJSON(out); err != nil {
					return err
				}
			}
			if !out.Whole {
				return fmt.Errorf("%s", out.Problem)
			}
			if !p.json {
				p.printf("The audit is whole: entries %d to %d. Hash of the last: %s\n", out.First, out.Last, out.Sum)
			}
			return nil
		},
	}
}
