package cli

import (
	"context"
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
)

func (p *program) notifyCommand() *cobra.Command {
	var in string
	var events []string
	var off bool
	cmd := &cobra.Command{
		Use:   "notify [WEBHOOK]",
		Short: "Have other programs told when a document is ready or has failed, or answers are worse",
		Long: `Have another program told what happens in a collection, by a signed HTTP request.
Where it is reached is said when the service is started (jardinet serve --webhook
NAME=ADDRESS), and what signs the requests by a secret of the same name (--secret
NAME=FILE). What does not arrive is tried again for two days. Without a name, show
which programs are told what.

  document.ready      a document is ready, and answers come from it
  document.failed     a document could not be read
  document.replaced   a newer version has taken a document's place
  document.removed    a document was put into the bin
  accuracy.dropped    a measurement shows less than is required, or than before`,
		Example: "  jardinet notify rota --on document.ready,document.failed --in halvern\n  jardinet notify rota --off --in halvern",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			if len(args) == 1 {
				if err := setHook(cmd.Context(), c, in, args[0], events, off); err != nil {
					return err
				}
			}
			all, err := c.Hooks(cmd.Context(), in)
			if err != nil {
				return err
			}
			return p.printHooks(in, all)
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringSliceVar(&events, "on", nil, "events that are told, such as document.ready,document.failed")
	cmd.Flags().BoolVar(&off, "off", false, "tell it nothing more")
	return cmd
}

func setHook(ctx context.Context, c *client.Client, collection, name string, events []string, off bool) error {
	if off {
		return c.RemoveHook(ctx, collection, name)
	}
	if len(events) == 0 {
		return fmt.Errorf("say what %s shall be told, such as --on document.ready, or --off", name)
	}
	_, err := c.SetHook(ctx, collection, name, events)
	return err
}

func (p *program) printHooks(in string, all *api.Hooks) error {
	if p.json {
		return p.printJSON(all)
	}
	if len(all.Hooks) == 0 {
		p.printf("No program is told what happens in %s. Names that can be used: %s\n", in, orNone(strings.Join(all.Names, ", ")))
		return nil
	}
	rows := [][]string{{"WEBHOOK", "SIGNED", "WAITING", "TOLD OF", "LAST PROBLEM"}}
	for _, h := range all.Hooks {
		signed := "no"
		if h.Signed {
			signed = "yes"
		}
		rows = append(rows, []string{h.Name, signed, fmt.Sprint(h.Waiting), strings.Join(h.Events, ", "), h.Problem})
	}
	p.table(rows)
	return nil
}

func orNone(s string) string {
	if s == "" {
		return "none; start the service with --webhook NAME=ADDRESS"
	}
	return s
}
