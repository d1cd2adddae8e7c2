package cli

import (
	"errors"
	"strconv"

	"github.com/spf13/cobra"

	"jardinet/api"
)

func (p *program) removeCommand() *cobra.Command {
	var in string
	var conversations bool
	cmd := &cobra.Command{
		Use:   "remove DOCUMENT…",
		Short: "Remove documents; no answer comes from them any more",
		Long: `Remove documents with all their versions; no answer comes from them any more. For a
week they can be put back (see "jardinet bin"); then they are gone for good.`,
		Example: "  jardinet remove old-policy.pdf --in halvern\n  jardinet remove old-policy.pdf --conversations --in halvern",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			var errs []error
			removed := []api.Removal{}
			for _, name := range args {
				r, err := c.Remove(cmd.Context(), in, name, conversations)
				if err != nil {
					errs = append(errs, err)
					continue
				}
				removed = append(removed, *r)
			}
			if p.json {
				return errors.Join(append(errs, p.printJSON(map[string]any{"removed": removed}))...)
			}
			for _, r := range removed {
				p.printf("Removed %s from %s: %s, %s. It can be put back until %s.\n", r.Name, in, count(r.Versions, "version", "versions"), count(r.Pages, "page", "pages"),
					r.Until.Local().Format("2 January 2006"))
				if r.Conversations > 0 {
					p.printf("%s that quoted it removed for good.\n", count(r.Conversations, "conversation", "conversations"))
				}
			}
			return errors.Join(errs...)
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().BoolVar(&conversations, "conversations", false, "remove kept conversations that quote them too, at once and for good")
	return cmd
}

func (p *program) binCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "bin",
		Short: "See what was removed, and put it back",
	}
	cmd.AddCommand(p.binList(), p.binRestore(), p.binPurge())
	return cmd
}

func (p *program) binList() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "list",
		Short:   "List what was removed and can be put back",
		Example: "  jardinet bin list --in halvern",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			all, err := c.Bin(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"removed": all})
			}
			if len(all) == 0 {
				p.printf("Nothing is in the bin of %s.\n", in)
				return nil
			}
			rows := [][]string{{"DOCUMENT", "VERSIONS", "PAGES", "REMOVED", "GONE FOR GOOD"}}
			for _, r := range all {
				rows = append(rows, []string{r.Name, strconv.Itoa(r.Versions), strconv.Itoa(r.Pages), day(&r.Removed, ""), day(&r.Until, "")})
			}
			p.table(rows)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) binRestore() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "restore DOCUMENT",
		Short:   "Put a removed document back, with its versions, corrections and tags",
		Example: "  jardinet bin restore old-policy.pdf --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			d, err := c.Restore(cmd.Context(), in, args[0])
			if err != nil {
				return err
			}
			p.printf("%s is back in %s, and is %s.\n", d.Name, in, d.State)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) binPurge() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "purge DOCUMENT",
		Short:   "Remove a removed document for good, now",
		Example: "  jardinet bin purge old-policy.pdf --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			if err := c.Purge(cmd.Context(), in, args[0]); err != nil {
				return err
			}
			p.printf("%s is gone for good: records, pages and originals.\n", args[0])
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}
