package cli

import (
	"github.com/spf13/cobra"
)

func (p *program) conversationsCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "conversations",
		Short: "List, show and remove the conversations that are kept",
		Long: `List, show and remove the conversations that are kept. "ask --conversation new"
begins one. "show --format questions" makes a question set of one: its questions,
the answers as they were given, and the pages cited for evidence.`,
	}
	cmd.AddCommand(p.conversationsList(), p.conversationsShow(), p.conversationsRemove())
	return cmd
}

func (p *program) conversationsList() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "list",
		Short:   "List the kept conversations, the latest first",
		Example: "  jardinet conversations list --in halvern",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			all, err := c.Conversations(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"conversations": all})
			}
			if len(all) == 0 {
				p.printf("No conversation is kept. Begin one with: jardinet ask QUESTION --conversation new\n")
				return nil
			}
			rows := [][]string{{"ID", "LAST", "BEGAN WITH"}}
			for _, one := range all {
				rows = append(rows, []string{one.ID, one.Changed.Local().Format("2 January 2006, 15:04"), clip(one.First, 80)})
			}
			p.table(rows)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) conversationsShow() *cobra.Command {
	var in, format string
	cmd := &cobra.Command{
		Use:     "show ID",
		Short:   "Show a kept conversation",
		Example: "  jardinet conversations show CWX7PJ2Q --in halvern\n  jardinet conversations show CWX7PJ2Q --format questions > set.jsonl",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			if p.json {
				format = "json"
			}
			data, err := c.Conversation(cmd.Context(), in, args[0], format)
			if err != nil {
				return err
			}
			p.printf("%s", data)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringVar(&format, "format", "markdown", "markdown, html, pdf, json or questions")
	return cmd
}

func (p *program) conversationsRemove() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "remove ID",
		Short:   "Remove a kept conversation",
		Example: "  jardinet conversations remove CWX7PJ2Q --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			if err := c.RemoveConversation(cmd.Context(), in, args[0]); err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]string{"removed": args[0]})
			}
			p.printf("Removed conversation %s.\n", args[0])
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}
