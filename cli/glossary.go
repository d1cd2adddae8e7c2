package cli

import (
	"fmt"
	"os"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
	"jardinet/rank"
	"jardinet/text"
)

func (p *program) glossaryCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "glossary",
		Short: "Teach a collection its own language: synonyms, abbreviations, translations",
		Long: `Show and change a collection's glossary. Entries hold for the next question;
nothing is indexed again. Kinds are synonym, abbreviation and translation.
Abbreviations that the documents explain themselves, as in "Standing Safety Instruction (SSI)", are known without
an entry. Words that readers asked for and no document has are listed, since one
of them may be missing here.`,
	}
	cmd.AddCommand(p.glossaryShow(), p.glossaryAdd(), p.glossaryRemove(), p.glossaryImport(), p.glossaryExport())
	return cmd
}

func (p *program) glossaryShow() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "show",
		Short:   "Show a collection's glossary",
		Example: "  jardinet glossary show --in halvern",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, g, err := p.glossary(cmd, &in)
			if err != nil {
				return err
			}
			return p.printGlossary(g)
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) printGlossary(g *api.Glossary) error {
	if p.json {
		return p.printJSON(g)
	}
	if len(g.Entries) == 0 {
		p.printf("No entry yet. Make one with: jardinet glossary add synonym \"plant room\" \"boiler house\"\n")
	}
	rows := [][]string{{"KIND", "TERM", "MEANS"}}
	for _, e := range g.Entries {
		rows = append(rows, []string{string(e.Kind), inLanguage(e.Term, e.Language), inLanguage(e.Means, e.MeansLanguage)})
	}
	for _, e := range g.Found {
		rows = append(rows, []string{"found", e.Term, e.Means})
	}
	if len(rows) > 1 {
		p.table(rows)
	}
	if len(g.Unknown) > 0 {
		p.printf("\nAsked for, and in no document:\n")
		rows = [][]string{{"WORD", "ASKED", "LAST QUESTION"}}
		for _, u := range g.Unknown {
			rows = append(rows, []string{u.Word, strconv.Itoa(u.Asked), clip(u.Question, 70)})
		}
		p.table(rows)
	}
	return nil
}

func inLanguage(term string, language text.Language) string {
	if language == "" {
		return term
	}
	return term + " (" + string(language) + ")"
}

// glossary fetches a collection's glossary.
func (p *program) glossary(cmd *cobra.Command, in *string) (*client.Client, *api.Glossary, error) {
	c, err := p.connect(cmd.Context(), in)
	if err != nil {
		return nil, nil, err
	}
	g, err := c.Glossary(cmd.Context(), *in)
	return c, g, err
}

// changeGlossary fetches the entries, changes them and sends them back.
func (p *program) changeGlossary(cmd *cobra.Command, in *string, change func([]rank.Entry) ([]rank.Entry, error)) error {
	c, g, err := p.glossary(cmd, in)
	if err != nil {
		return err
	}
	entries, err := change(g.Entries)
	if err != nil {
		return err
	}
	if g, err = c.SetGlossary(cmd.Context(), *in, entries); err != nil {
		return err
	}
	if p.json {
		return p.printJSON(g)
	}
	p.printf("The glossary of %s has %d entries.\n", *in, len(g.Entries))
	return nil
}

func (p *program) glossaryAdd() *cobra.Command {
	var in string
	var e rank.Entry
	cmd := &cobra.Command{
		Use:   "add KIND TERM MEANS",
		Short: "Add an entry",
		Example: "  jardinet glossary add abbreviation SSI \"Standing Safety Instruction\" --in halvern\n" +
			"  jardinet glossary add translation Saatgut seed --language de --means-language en",
		Args: cobra.ExactArgs(3),
		RunE: func(cmd *cobra.Command, args []string) error {
			e.Kind, e.Term, e.Means = rank.Kind(args[0]), args[1], args[2]
			return p.changeGlossary(cmd, &in, func(entries []rank.Entry) ([]rank.Entry, error) {
				if slices.Contains(entries, e) {
					return entries, nil
				}
				return append(entries, e), nil
			})
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringVar((*string)(&e.Language), "language", "", "language of the term, such as de")
	cmd.Flags().StringVar((*string)(&e.MeansLanguage), "means-language", "", "language of what a translation means")
	return cmd
}

func (p *program) glossaryRemove() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "remove TERM",
		Short:   "Remove the entries of a term",
		Example: "  jardinet glossary remove SSI --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return p.changeGlossary(cmd, &in, func(entries []rank.Entry) ([]rank.Entry, error) {
				left := slices.DeleteFunc(slices.Clone(entries), func(e rank.Entry) bool { return strings.EqualFold(e.Term, args[0]) })
				if len(left) == len(entries) {
					return nil, fmt.Errorf("the glossary has no entry for %q; jardinet glossary show lists them", args[0])
				}
				return left, nil
			})
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) glossaryImport() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "import FILE",
		Short:   "Replace the entries by those of a CSV file",
		Long:    "Replace the entries by those of a CSV file with the columns kind, term, means and, if wanted, language and means_language.",
		Example: "  jardinet glossary import glossary.csv --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			entries, err := rank.ReadGlossary(data)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			return p.changeGlossary(cmd, &in, func([]rank.Entry) ([]rank.Entry, error) { return entries, nil })
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) glossaryExport() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "export",
		Short:   "Write the entries as CSV to the standard output",
		Example: "  jardinet glossary export --in halvern > glossary.csv",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, g, err := p.glossary(cmd, &in)
			if err != nil {
				return err
			}
			p.printf("%s", rank.WriteGlossary(g.Entries))
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}
