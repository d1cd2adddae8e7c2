package cli

import (
	"fmt"
	"sort"
	"strconv"
	"strings"

	"jardinet/api"

	"github.com/spf13/cobra"
)

func (p *program) collectionCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "collection",
		Short: "Make, list, show and remove collections",
	}
	cmd.AddCommand(p.collectionCreate(), p.collectionReindex(), p.collectionList(), p.collectionShow(), p.collectionRemove())
	return cmd
}

func (p *program) collectionCreate() *cobra.Command {
	recipe := api.DefaultRecipe
	cmd := &cobra.Command{
		Use:     "create NAME",
		Short:   "Create an empty collection",
		Example: "  jardinet collection create manuals\n  jardinet collection create manuals --target 120 --overlap 20",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			out, err := c.CreateCollection(cmd.Context(), args[0], &recipe)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			p.printf("Created collection %s. Add documents with: jardinet add FILE… --to %s\n", out.Name, out.Name)
			return nil
		},
	}
	recipeFlags(cmd, &recipe)
	return cmd
}

// recipeFlags are the settings by which documents are cut.
func recipeFlags(cmd *cobra.Command, recipe *api.Recipe) {
	cmd.Flags().StringVar((*string)(&recipe.Passage.Cut), "cut", "structure", "where passages end: structure, words or page")
	cmd.Flags().IntVar(&recipe.Passage.Target, "target", recipe.Passage.Target, "length of a passage in words")
	cmd.Flags().StringVar((*string)(&recipe.Retrieval), "retrieval", "both", "what passages are found by: words, meaning or both")
	recipe.Embedding = nil
	var e api.Embedding
	cmd.Flags().StringVar(&e.URL, "embed-url", "", "outside server of embeddings, such as http://127.0.0.1:8080/v1; the program's own without")
	cmd.Flags().StringVar(&e.Model, "embed-model", "", "model of the outside server")
	cmd.Flags().StringVar(&e.Key, "embed-key", "", "name of the secret that is the server's key (see \"jardinet serve --secret\")")
	cmd.PreRun = func(*cobra.Command, []string) {
		if e.URL != "" || e.Model != "" {
			recipe.Embedding = &e
		}
	}
	cmd.Flags().IntVar(&recipe.Passage.Overlap, "overlap", recipe.Passage.Overlap, "words that a passage repeats of the one before")
}

func (p *program) collectionReindex() *cobra.Command {
	recipe := api.DefaultRecipe
	cmd := &cobra.Command{
		Use:     "reindex NAME",
		Short:   "Rebuild the passages by another recipe, without reading the files again",
		Example: "  jardinet collection reindex manuals --target 240\n  jardinet collection reindex manuals --cut page",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			out, err := c.Reindex(cmd.Context(), args[0], recipe)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(out)
			}
			p.printf("%s now has %d passages.\n", out.Name, out.Passages)
			return nil
		},
	}
	recipeFlags(cmd, &recipe)
	return cmd
}

func (p *program) collectionList() *cobra.Command {
	return &cobra.Command{
		Use:     "list",
		Short:   "List all collections",
		Example: "  jardinet collection list",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			all, err := c.Collections(cmd.Context())
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"collections": all})
			}
			if len(all) == 0 {
				p.printf("No collection yet. Create one with: jardinet collection create NAME\n")
				return nil
			}
			rows := [][]string{{"NAME", "DOCUMENTS", "PAGES", "PASSAGES", "LANGUAGES"}}
			for _, one := range all {
				rows = append(rows, []string{one.Name, states(one.Documents), strconv.Itoa(one.Pages), strconv.Itoa(one.Passages), strings.Join(one.Languages, " ")})
			}
			p.table(rows)
			return nil
		},
	}
}

// states words counts by state: "11 ready, 1 failed".
func states(counts map[string]int) string {
	var parts []string
	for state, n := range counts {
		if state != "replaced" {
			parts = append(parts, fmt.Sprintf("%d %s", n, state))
		}
	}
	if len(parts) == 0 {
		return "none"
	}
	sort.Sort(sort.Reverse(sort.StringSlice(parts)))
	return strings.Join(parts, ", ")
}

func (p *program) collectionShow() *cobra.Command {
	return &cobra.Command{
		Use:     "show NAME",
		Short:   "Show a collection",
		Example: "  jardinet collection show manuals",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			one, err := c.Collection(cmd.Context(), args[0])
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(one)
			}
			p.table([][]string{
				{"Name", one.Name},
				{"Made", one.Created.Local().Format("2 January 2006, 15:04")},
				{"Documents", states(one.Documents)},
				{"Pages", strconv.Itoa(one.Pages)},
				{"Passages", strconv.Itoa(one.Passages)},
				{"Languages", strings.Join(one.Languages, " ")},
				{"Recipe", fmt.Sprintf("%s, version %d: passages of %d words, %d repeated", one.Recipe.Name, one.Recipe.Version, one.Recipe.Passage.Target, one.Recipe.Passage.Overlap)},
				{"Embedding", embeddingOf(one.Recipe)},
			})
			return nil
		},
	}
}

func embeddingOf(r api.Recipe) string {
	if r.Embedding == nil {
		return "built-in"
	}
	return fmt.Sprintf("%s at %s, %d dimensions", r.Embedding.Model, r.Embedding.URL, r.Embedding.Dimensions)
}

func (p *program) collectionRemove() *cobra.Command {
	return &cobra.Command{
		Use:     "remove NAME",
		Short:   "Remove a collection with its documents and measurements",
		Example: "  jardinet collection remove old-manuals",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			if err := c.RemoveCollection(cmd.Context(), args[0]); err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]string{"removed": args[0]})
			}
			p.printf("Removed collection %s.\n", args[0])
			return nil
		},
	}
}
