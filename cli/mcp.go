package cli

import (
	"github.com/modelcontextprotocol/go-sdk/mcp"
	"github.com/spf13/cobra"

	"jardinet/programs"
)

func (p *program) mcpCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "mcp",
		Short: "Let a model ask, by the Model Context Protocol over standard input and output",
		Long: `Let a program around a model start this command and ask through it, by the Model Context
Protocol over standard input and output: to list collections and documents, to ask with
citations, to search passages and to read pages. The service is the one that other
commands talk to, and the key is theirs. A service also speaks the protocol itself, over
HTTP, at the address /mcp.`,
		Example: "  jardinet mcp --server https://manuals.example",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			at, err := p.address()
			if err != nil {
				return err
			}
			return programs.Server(c, at.Server, Version).Run(cmd.Context(), &mcp.StdioTransport{})
		},
	}
}
