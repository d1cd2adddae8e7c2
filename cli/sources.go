package cli

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
)

func (p *program) watchCommand() *cobra.Command {
	var to, secret string
	var every time.Duration
	cmd := &cobra.Command{
		Use:   "watch DIR|URL",
		Short: "Keep a collection as a folder is",
		Long: `Keep a collection as a folder is: new and changed files are put in, and those that
have been gone for a minute are removed, into the bin. The folder is a directory on
the machine of the service, which has to be started with --watch-below for it, or
one that a server shows by WebDAV. The service goes on with it by itself, also
after a restart; "jardinet sources" shows how it goes and ends it.`,
		Example: "  jardinet watch /srv/manuals --to halvern\n  jardinet watch https://files.example/dav/manuals --to halvern --secret dav --every 10m",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			s := api.Source{Kind: "webdav", At: args[0], Minutes: int(every.Minutes()), Secret: secret}
			if !isAddress(s.At) {
				path, err := filepath.Abs(args[0])
				if err != nil {
					return err
				}
				s.Kind, s.At = "folder", path
			}
			return p.addSource(cmd.Context(), to, s)
		},
	}
	cmd.Flags().StringVar(&to, "to", "", "collection")
	cmd.Flags().StringVar(&secret, "secret", "", "of a server by WebDAV: name of the secret that holds person:passphrase")
	cmd.Flags().DurationVar(&every, "every", 0, "between two looks, such as 10m; 0 for a few seconds")
	return cmd
}

func isAddress(s string) bool {
	return strings.HasPrefix(s, "http://") || strings.HasPrefix(s, "https://")
}

func (p *program) addSource(ctx context.Context, to string, s api.Source) error {
	c, err := p.connect(ctx, &to)
	if err != nil {
		return err
	}
	out, err := c.AddSource(ctx, to, s)
	if err != nil {
		return err
	}
	if p.json {
		return p.printJSON(out)
	}
	p.printSources([]api.Source{*out})
	return nil
}

func (p *program) printSources(all []api.Source) {
	rows := [][]string{{"SOURCE", "KIND", "FILES", "LOOKED AT", "WHERE"}}
	for _, s := range all {
		checked := "not yet"
		if !s.Checked.IsZero() {
			checked = s.Checked.Local().Format("2006-01-02 15:04:05")
		}
		where := s.At
		if s.Links {
			where += " (and the PDFs that it links to)"
		}
		rows = append(rows, []string{s.ID, s.Kind, fmt.Sprint(s.Files), checked, where})
	}
	p.table(rows)
	columns, _ := width(p.out)
	for _, s := range all {
		if s.Problem != "" {
			p.printf("%s\n", wrap(s.Problem, p.paint(ochre, s.ID)+": ", "  ", columns))
		}
	}
}

func (p *program) sourcesCommand() *cobra.Command {
	var in, remove, look string
	cmd := &cobra.Command{
		Use:   "sources",
		Short: "Show where a collection's documents come from, look there now, or end it",
		Long: `Show the addresses and folders that a collection's documents come from. --look
looks at one of them now; --remove forgets one, and what came from it stays.`,
		Example: "  jardinet sources --in halvern\n  jardinet sources --in halvern --look QX3M7KZT2ABCD",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			ctx := cmd.Context()
			c, err := p.connect(ctx, &in)
			if err != nil {
				return err
			}
			if remove != "" {
				return c.RemoveSource(ctx, in, remove)
			}
			all, err := p.looked(ctx, c, in, look)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"sources": all})
			}
			if len(all) == 0 {
				p.printf("No sources. Add an address with: jardinet add https://… --to %s; or a folder with: jardinet watch DIR --to %s\n", in, in)
				return nil
			}
			p.printSources(all)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringVar(&look, "look", "", "look at this source now")
	cmd.Flags().StringVar(&remove, "remove", "", "forget this source")
	return cmd
}

// looked lists the sources, or looks at one.
func (p *program) looked(ctx context.Context, c *client.Client, in, look string) ([]api.Source, error) {
	if look == "" {
		return c.Sources(ctx, in)
	}
	one, err := c.LookAtSource(ctx, in, look)
	if err != nil {
		return nil, err
	}
	return []api.Source{*one}, nil
}

func (p *program) fieldsCommand() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:   "fields FILE.csv|FILE.json|DOCUMENT [NAME=VALUE…]",
		Short: "Give documents fields, by which questions can be kept to some of them",
		Long: `Give documents fields, such as department=estates. A CSV file gives them to many:
its first column has the documents' names, and the others the fields that their
heads name; a JSON file is a list of objects, each with a "document" and its
fields. A field without a value is taken away. Questions are kept to documents
with a field by --where.`,
		Example: "  jardinet fields metadata.csv --in halvern\n  jardinet fields staff-handbook.pdf department=estates year=2025 --in halvern\n  jardinet ask \"Who approves leave?\" --where department=estates",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			if len(args) == 1 {
				return p.importFields(cmd.Context(), c, in, args[0])
			}
			fields := map[string]string{}
			for _, a := range args[1:] {
				name, value, ok := strings.Cut(a, "=")
				if !ok {
					return fmt.Errorf("%q: write a field as NAME=VALUE", a)
				}
				fields[name] = value
			}
			d, err := c.SetFields(cmd.Context(), in, args[0], fields)
			if err != nil {
				return err
			}
			return p.printJSON(d.Fields)
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) importFields(ctx context.Context, c *client.Client, in, path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	given, missing, err := c.ImportFields(ctx, in, f)
	if err != nil {
		return err
	}
	p.printf("%s given their fields.\n", plural(given, "document"))
	if len(missing) > 0 {
		fmt.Fprintf(p.err, "jardinet: no document is called %s\n", strings.Join(missing, ", "))
		return errQuiet
	}
	return nil
}
