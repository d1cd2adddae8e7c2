package cli

import (
	"bufio"
	"fmt"
	"strings"

	"github.com/spf13/cobra"
)

func (p *program) unlockCommand() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:   "unlock DOCUMENT",
		Short: "Have a document read that asks for a password",
		Long: `Have a document read that asks for a password, which is read from standard input, so
that it stands in no history of commands. It is used once and kept nowhere.`,
		Example: "  jardinet unlock accounts.pdf --in halvern < password.txt",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			password, err := bufio.NewReader(p.in).ReadString('\n')
			if password = strings.TrimRight(password, "\r\n"); password == "" {
				return fmt.Errorf("no password comes from standard input: %w", err)
			}
			if err := c.Unlock(cmd.Context(), in, args[0], password); err != nil {
				return err
			}
			p.printf("%s is being read.\n", args[0])
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}
