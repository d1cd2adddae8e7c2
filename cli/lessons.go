package cli

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
	"jardinet/measure"
)

func (p *program) lessonsCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "lessons",
		Short: "Teach a collection where the answers to readers' questions stand",
		Long: `Show and change a collection's lessons. A lesson is a question with the words of a
page that answer it. A question that means the same is answered from there, with the
page for its proof as always; nothing is indexed again. A lesson that means the same as
another is refused. One whose document is gone, or says it in other words now, is left
unused and listed with the reason.`,
	}
	cmd.AddCommand(p.lessonsShow(), p.lessonsAdd(), p.lessonsRemove(), p.lessonsImport(), p.lessonsExport())
	return cmd
}

func (p *program) lessonsShow() *cobra.Command {
	var in string
	var unused bool
	cmd := &cobra.Command{
		Use:     "show",
		Short:   "List a collection's lessons",
		Example: "  jardinet lessons show --in halvern --unused",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, all, err := p.lessons(cmd, &in)
			if err != nil {
				return err
			}
			return p.printLessons(all, unused)
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().BoolVar(&unused, "unused", false, "only those that cannot be used now, and why")
	return cmd
}

// lessons fetches a collection's lessons.
func (p *program) lessons(cmd *cobra.Command, in *string) (*client.Client, []api.Lesson, error) {
	c, err := p.connect(cmd.Context(), in)
	if err != nil {
		return nil, nil, err
	}
	all, err := c.Lessons(cmd.Context(), *in)
	return c, all, err
}

func (p *program) printLessons(all []api.Lesson, unused bool) error {
	var shown []api.Lesson
	for _, l := range all {
		if !unused || l.Problem != "" {
			shown = append(shown, l)
		}
	}
	if p.json {
		return p.printJSON(map[string]any{"lessons": append([]api.Lesson{}, shown...)})
	}
	switch {
	case len(all) == 0:
		p.printf("No lesson yet. Give one with: jardinet lessons add QUESTION --document FILE.pdf --page 3 --quote \"the words that answer it\"\n")
	case len(shown) == 0:
		p.printf("None of %s is unused.\n", plural(len(all), "lesson"))
	}
	rows := [][]string{{"ID", "QUESTION", "WHERE", "QUOTE"}}
	for _, l := range shown {
		at := (&measure.Question{Evidence: l.Evidence}).Places()[0]
		rows = append(rows, []string{l.ID, clip(l.Question, 60), at.Document + ", page " + strconv.Itoa(at.Page), clip(at.Quote, 60)})
		if l.Problem != "" {
			rows = append(rows, []string{"", "  not used: " + l.Problem})
		}
	}
	if len(rows) > 1 {
		p.table(rows)
	}
	return nil
}

// teach gives lessons and says how many there are then, and how many rest.
func (p *program) teach(cmd *cobra.Command, in *string, lessons []api.Lesson) error {
	c, err := p.connect(cmd.Context(), in)
	if err != nil {
		return err
	}
	all, err := c.Teach(cmd.Context(), *in, lessons)
	if err != nil {
		return err
	}
	if p.json {
		return p.printJSON(map[string]any{"lessons": all})
	}
	unused := 0
	for _, l := range all {
		if l.Problem != "" {
			unused++
		}
	}
	p.printf("%s has %s", *in, plural(len(all), "lesson"))
	if unused > 0 {
		p.printf(", %d not used; jardinet lessons show --unused says why", unused)
	}
	p.printf(".\n")
	return nil
}

func (p *program) lessonsAdd() *cobra.Command {
	var in string
	var at measure.Evidence
	var after []string
	cmd := &cobra.Command{
		Use:   "add QUESTION",
		Short: "Show where the answer to a question stands",
		Example: `  jardinet lessons add "When does the dustcart come?" --in halvern --document estate-policies.pdf --page 11 \
    --quote "Waste is collected by a licensed carrier in March"`,
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return p.teach(cmd, &in, []api.Lesson{{Question: args[0], After: after, Evidence: []measure.Evidence{at}}})
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringVar(&at.Document, "document", "", "file name of the document")
	cmd.Flags().IntVar(&at.Page, "page", 0, "physical page, from 1")
	cmd.Flags().StringVar(&at.Quote, "quote", "", "words on that page that answer the question")
	cmd.Flags().StringArrayVar(&after, "after", nil, "an earlier question that this one leans on (may be given several times)")
	for _, name := range []string{"document", "page", "quote"} {
		cmd.MarkFlagRequired(name)
	}
	return cmd
}

func (p *program) lessonsRemove() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "remove ID|QUESTION",
		Short:   "Remove a lesson",
		Example: "  jardinet lessons remove \"When does the dustcart come?\" --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, all, err := p.lessons(cmd, &in)
			if err != nil {
				return err
			}
			for _, l := range all {
				if l.ID == args[0] || strings.EqualFold(l.Question, args[0]) {
					return c.Forget(cmd.Context(), in, l.ID)
				}
			}
			return fmt.Errorf("no lesson has the id or the question %q; jardinet lessons show lists them", args[0])
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) lessonsImport() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:   "import QUESTIONS",
		Short: "Teach the questions of a question set that have quotations",
		Long: `Teach the questions of a question set, JSON Lines or CSV. Their evidence needs a
quote beside document and page; questions without an answer are left out. A lesson for
the same question is replaced, all others stay.`,
		Example: "  jardinet lessons import lessons.jsonl --in halvern",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			set, err := measure.ReadSet(filepath.Base(args[0]), data)
			if err != nil {
				return err
			}
			return p.teach(cmd, &in, api.LessonsOf(set))
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

func (p *program) lessonsExport() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "export",
		Short:   "Write the lessons as a question set to the standard output",
		Example: "  jardinet lessons export --in halvern > lessons.jsonl",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, all, err := p.lessons(cmd, &in)
			if err != nil {
				return err
			}
			encoder := json.NewEncoder(p.out)
			encoder.SetEscapeHTML(false)
			for _, l := range all {
				if err := encoder.Encode(l.Asked()); err != nil {
					return err
				}
			}
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}
