package cli

import (
	"slices"

	"jardinet/api"

	"github.com/spf13/cobra"
)

func (p *program) tagCommand() *cobra.Command {
	var in string
	var put, drop []string
	cmd := &cobra.Command{
		Use:   "tag DOCUMENT…",
		Short: "Put tags on documents, or take them off, to look in some of them alone",
		Long: `Put tags on documents or take them off; without either, show them. Questions and
searches can be kept to the documents that have a tag. Tags belong to a document's
name, so a new version has them too; they are kept in lower case.`,
		Example: `  jardinet tag staff-handbook.pdf railway-rule-book.pdf --put staff --in halvern
  jardinet ask "How old must a driver be?" --tag staff --in halvern`,
		Args: cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			var docs []api.Document
			for _, name := range args {
				d, err := c.Document(cmd.Context(), in, name)
				if err != nil {
					return err
				}
				if len(put)+len(drop) > 0 {
					tags := slices.DeleteFunc(append(d.Tags, put...), func(tag string) bool { return slices.Contains(drop, tag) })
					if d, err = c.SetTags(cmd.Context(), in, d.ID, tags); err != nil {
						return err
					}
				}
				docs = append(docs, *d)
			}
			if p.json {
				return p.printJSON(map[string]any{"documents": docs})
			}
			p.printDocuments(docs)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringArrayVar(&put, "put", nil, "tag to put on (repeatable)")
	cmd.Flags().StringArrayVar(&drop, "drop", nil, "tag to take off (repeatable)")
	return cmd
}
