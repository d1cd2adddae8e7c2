package cli

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"
	"golang.org/x/term"

	"jardinet/api"
)

func (p *program) peopleCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "people",
		Short: "Say who may sign in",
		Long: `Say who may sign in to the console. The first administrator is made with the link
that "jardinet serve" prints; from then on nobody gets in without a name and a
passphrase, or a key (see "jardinet keys").`,
	}
	cmd.AddCommand(p.peopleList(), p.peopleAdd(), p.peopleChange(), p.peopleRemove())
	return cmd
}

func (p *program) peopleList() *cobra.Command {
	return &cobra.Command{
		Use:     "list",
		Short:   "List who may sign in",
		Example: "  jardinet people list",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			all, err := c.People(cmd.Context())
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"people": all})
			}
			rows := [][]string{{"NAME", "MAY", "LAST HERE"}}
			for _, one := range all {
				rows = append(rows, []string{one.Name, may(one.Administrator, one.Rights), day(one.Used, "never")})
			}
			p.table(rows)
			return nil
		},
	}
}

// may says in words what a person or a key has the right to.
func may(administrator bool, rights map[string]string) string {
	if administrator {
		return "everything (administrator)"
	}
	var out []string
	for _, name := range slices.Sorted(maps.Keys(rights)) {
		out = append(out, rights[name]+" of "+name)
	}
	if out == nil {
		return "nothing yet"
	}
	return strings.Join(out, ", ")
}

func day(t *time.Time, never string) string {
	if t == nil {
		return never
	}
	return t.Local().Format("2 January 2006, 15:04")
}

// parseRights reads rights as they are given to a flag: COLLECTION=RIGHT.
func parseRights(given []string) (map[string]string, error) {
	out := map[string]string{}
	for _, g := range given {
		name, right, ok := strings.Cut(g, "=")
		if !ok {
			return nil, fmt.Errorf("--may %s: write it as COLLECTION=reader, =editor or =owner", g)
		}
		out[name] = right
	}
	return out, nil
}

func (p *program) peopleAdd() *cobra.Command {
	var rights []string
	var administrator bool
	cmd := &cobra.Command{
		Use:   "add NAME",
		Short: "Let a person in",
		Long: `Let a person in. The passphrase is asked for, or read from standard input; it needs
twelve characters at least, such as four words that do not belong together.`,
		Example: "  jardinet people add gwen --may halvern=editor\n  jardinet people add edda --administrator",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			in := api.NewPerson{Name: args[0], Administrator: administrator}
			if in.Rights, err = parseRights(rights); err != nil {
				return err
			}
			if in.Passphrase, err = p.secret("Passphrase for " + args[0] + ": "); err != nil {
				return err
			}
			out, err := c.AddPerson(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			p.printf("%s may sign in: %s.\n", out.Name, may(out.Administrator, out.Rights))
			return nil
		},
	}
	cmd.Flags().StringArrayVar(&rights, "may", nil, "right in a collection, COLLECTION=reader, =editor or =owner (repeatable)")
	cmd.Flags().BoolVar(&administrator, "administrator", false, "may do everything")
	return cmd
}

// secret asks for what must not be seen, or reads a line of standard input.
func (p *program) secret(prompt string) (string, error) {
	if f, ok := p.in.(*os.File); ok && term.IsTerminal(int(f.Fd())) {
		fmt.Fprint(p.err, prompt)
		data, err := term.ReadPassword(int(f.Fd()))
		fmt.Fprintln(p.err)
		return string(data), err
	}
	line, err := bufio.NewReader(p.in).ReadString('\n')
	if err != nil && !errors.Is(err, io.EOF) {
		return "", err
	}
	return strings.TrimRight(line, "\r\n"), nil
}

func (p *program) peopleChange() *cobra.Command {
	var administrator bool
	var passphrase bool
	cmd := &cobra.Command{
		Use:     "change NAME",
		Short:   "Give a person another passphrase, or make them an administrator",
		Example: "  jardinet people change gwen --passphrase\n  jardinet people change gwen --administrator=false",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			var change api.PersonChange
			if cmd.Flags().Changed("administrator") {
				change.Administrator = &administrator
			}
			if passphrase {
				next, err := p.secret("New passphrase for " + args[0] + ": ")
				if err != nil {
					return err
				}
				change.Passphrase = &next
			}
			if change == (api.PersonChange{}) {
				return errors.New("nothing to change: give --passphrase or --administrator")
			}
			out, err := c.ChangePerson(cmd.Context(), args[0], change)
			if err != nil {
				return err
			}
			p.printf("%s may do: %s.\n", out.Name, may(out.Administrator, out.Rights))
			return nil
		},
	}
	cmd.Flags().BoolVar(&passphrase, "passphrase", false, "ask for a new passphrase; all the person's sessions end")
	cmd.Flags().BoolVar(&administrator, "administrator", false, "may do everything, or with =false no longer")
	return cmd
}

func (p *program) peopleRemove() *cobra.Command {
	return &cobra.Command{
		Use:     "remove NAME",
		Short:   "Shut a person out, and remove the conversations they kept",
		Example: "  jardinet people remove gwen",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			if err := c.RemovePerson(cmd.Context(), args[0]); err != nil {
				return err
			}
			p.printf("%s can no longer sign in.\n", args[0])
			return nil
		},
	}
}
