package cli

import (
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jardinet/api"
)

func (p *program) keysCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "keys",
		Short: "Make and revoke keys for programs",
		Long: `Make and revoke keys for programs. A program sends its key with each request, as
"Authorization: Bearer KEY"; this program takes one from JARDINET_KEY.`,
	}
	cmd.AddCommand(p.keysList(), p.keysCreate(), p.keysRevoke())
	return cmd
}

func (p *program) keysList() *cobra.Command {
	return &cobra.Command{
		Use:     "list",
		Short:   "List the keys, without their secrets",
		Example: "  jardinet keys list",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			all, err := c.Keys(cmd.Context())
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"keys": all})
			}
			rows := [][]string{{"NAME", "MAY", "EXPIRES", "LAST USED"}}
			for _, one := range all {
				rows = append(rows, []string{one.Name, may(one.Administrator, one.Rights), day(one.Expires, "never"), day(one.Used, "never")})
			}
			p.table(rows)
			return nil
		},
	}
}

func (p *program) keysCreate() *cobra.Command {
	var rights []string
	var administrator, asks bool
	var expires string
	cmd := &cobra.Command{
		Use:     "create NAME",
		Short:   "Make a key, which is shown this once",
		Example: "  jardinet keys create intranet --may halvern=reader --expires 90d",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			in := api.NewKey{Name: args[0], Administrator: administrator, Asks: asks}
			if in.Rights, err = parseRights(rights); err != nil {
				return err
			}
			if in.Expires, err = parseExpiry(expires, time.Now()); err != nil {
				return err
			}
			out, err := c.CreateKey(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			p.printf("%s\n", out.Secret)
			fmt.Fprintf(p.err, "The key %s may: %s. It expires: %s. It is not shown again.\n", out.Name, may(out.Administrator, out.Rights), day(out.Expires, "never"))
			return nil
		},
	}
	cmd.Flags().StringArrayVar(&rights, "may", nil, "right in a collection, COLLECTION=reader, =editor or =owner (repeatable)")
	cmd.Flags().BoolVar(&administrator, "administrator", false, "may do everything")
	cmd.Flags().BoolVar(&asks, "asks-only", false, "may ask and see cited pages, and nothing else; for the question box")
	cmd.Flags().StringVar(&expires, "expires", "", "when it ends: a day such as 2027-06-30, or days from now such as 90d; never if not given")
	return cmd
}

// parseExpiry reads a day, to the end of which a key is good, or a number of days.
func parseExpiry(given string, now time.Time) (*time.Time, error) {
	if given == "" {
		return nil, nil
	}
	if n, err := strconv.Atoi(strings.TrimSuffix(given, "d")); err == nil && strings.HasSuffix(given, "d") && n > 0 {
		end := now.AddDate(0, 0, n)
		return &end, nil
	}
	day, err := time.ParseInLocation(time.DateOnly, given, time.Local)
	if err != nil {
		return nil, fmt.Errorf("--expires %s: write a day like 2027-06-30, or days from now like 90d", given)
	}
	end := day.AddDate(0, 0, 1).Add(-time.Second)
	return &end, nil
}

func (p *program) keysRevoke() *cobra.Command {
	return &cobra.Command{
		Use:     "revoke NAME",
		Short:   "Make a key useless at once",
		Example: "  jardinet keys revoke intranet",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			if err := c.RevokeKey(cmd.Context(), args[0]); err != nil {
				return err
			}
			p.printf("The key %s is useless now.\n", args[0])
			return nil
		},
	}
}

func (p *program) rightsCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "rights",
		Short: "Say who may do what in a collection",
		Long: `Say who may do what in a collection. A reader asks and sees pages; an editor
changes documents, corrections, the glossary and taught answers too; an owner
everything of the collection. Administrators own all collections.`,
	}
	cmd.AddCommand(p.rightsList(), p.rightsGive(), p.rightsTake())
	return cmd
}

func (p *program) rightsList() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "list",
		Short:   "List who has which right",
		Example: "  jardinet rights list --in halvern",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			all, err := c.Rights(cmd.Context(), in)
			if err != nil {
				return err
			}
			return p.printRights(in, all)
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) printRights(in string, all []api.Holder) error {
	if p.json {
		return p.printJSON(map[string]any{"rights": all})
	}
	if len(all) == 0 {
		p.printf("Only administrators see %s. Let others in with: jardinet rights give NAME reader --in %s\n", in, in)
		return nil
	}
	rows := [][]string{{"NAME", "KIND", "RIGHT"}}
	for _, one := range all {
		rows = append(rows, []string{one.Name, one.Kind, one.Right})
	}
	p.table(rows)
	return nil
}

func (p *program) rightsGive() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "give NAME RIGHT",
		Short:   "Make a person or a key a reader, an editor or an owner",
		Example: "  jardinet rights give gwen editor --in halvern",
		Args:    cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			return p.setRight(cmd, in, args[0], args[1])
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) rightsTake() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "take NAME",
		Short:   "Take somebody's right away",
		Example: "  jardinet rights take gwen --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return p.setRight(cmd, in, args[0], "")
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) setRight(cmd *cobra.Command, in, name, right string) error {
	c, err := p.connect(cmd.Context(), &in)
	if err != nil {
		return err
	}
	all, err := c.SetRight(cmd.Context(), in, name, right)
	if err != nil {
		return err
	}
	return p.printRights(in, all)
}
