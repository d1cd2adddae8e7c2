package cli

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
)

func (p *program) digestCommand() *cobra.Command {
	var in, as, part, pages, drop, reword, undo string
	cmd := &cobra.Command{
		Use:   "digest DOCUMENT [TEXT]",
		Short: "Show what a document holds at a glance: outline, key sentences, dates, figures, duties",
		Long: `Show what a document holds at a glance, in its own words, each line with its page:
its outline, the sentences that say most (five, a page, or by chapter), terms, dates and
deadlines, figures and limits, duties and prohibitions, and who has which.

Each line of the terms, dates, figures and duties has an id (see --json), by which an
editor can drop it or word it anew; that holds in new versions of the document too.
--part questions has questions that the document answers, with the answers as a key.
--part plain says pages in plain words: long sentences cut, abbreviations written out, and
terms explained in the document's own words, with how easy it is to read before and after.`,
		Example: `  jardinet digest seed-vault-manual.pdf --in halvern
  jardinet digest seed-vault-manual.pdf --part duties
  jardinet digest seed-vault-manual.pdf --part plain --pages 4-9
  jardinet digest seed-vault-manual.pdf --as calendar > vault.ics
  jardinet digest seed-vault-manual.pdf --drop 3f0c9a51d27e4b86`,
		Args: cobra.RangeArgs(1, 2),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			if line, edit, err := digestEdit(drop, reword, undo, args); line != "" || err != nil {
				if err == nil {
					err = c.EditDigest(cmd.Context(), in, args[0], line, edit)
				}
				return err
			}
			if p.json && part != "plain" {
				out, err := c.Digest(cmd.Context(), in, args[0])
				if err != nil {
					return err
				}
				return p.printJSON(out)
			}
			if part == "plain" {
				return p.printPlain(cmd.Context(), c, in, args[0], pages)
			}
			if part == "questions" {
				return p.printSheet(cmd.Context(), c, in, args[0])
			}
			data, err := c.DigestAs(cmd.Context(), in, args[0], as, part)
			if err != nil {
				return err
			}
			p.printf("%s", data)
			return nil
		},
	}
	f := cmd.Flags()
	f.StringVar(&in, "in", "", "collection")
	f.StringVar(&as, "as", "markdown", "markdown, or calendar for the days as iCalendar")
	f.StringVar(&part, "part", "", "summary, outline, page, chapters, terms, dates, figures, duties, offices, questions or plain")
	f.StringVar(&pages, "pages", "1-", "pages that are said in plain words, such as 4-9")
	f.StringVar(&drop, "drop", "", "leave out the line with this id")
	f.StringVar(&reword, "reword", "", "let TEXT stand for the line with this id")
	f.StringVar(&undo, "undo", "", "let the line with this id be as it stands in the document")
	return cmd
}

// printPlain prints pages in plain words.
func (p *program) printPlain(ctx context.Context, c *client.Client, in, document, pages string) error {
	first, last, ranged := strings.Cut(pages, "-")
	from, err := strconv.Atoi(first)
	to := 0
	if err == nil && ranged && last != "" {
		to, err = strconv.Atoi(last)
	} else if !ranged {
		to = from
	}
	if err != nil {
		return fmt.Errorf("--pages is %q: write a page, or a first and a last one, such as 4-9", pages)
	}
	out, err := c.Plain(ctx, in, document, from, to)
	if err != nil {
		return err
	}
	if p.json {
		return p.printJSON(out)
	}
	p.printf("%s", out.Markdown(document))
	return nil
}

// printSheet prints questions that a document answers, and the answers as a key.
func (p *program) printSheet(ctx context.Context, c *client.Client, in, document string) error {
	sheet, err := c.Sheet(ctx, in, document)
	if err != nil {
		return err
	}
	if len(sheet.Questions) == 0 {
		p.printf("No question could be drafted that %s answers for sure.\n", document)
		return nil
	}
	p.printf("%s", sheet.Markdown(document))
	return nil
}

// digestEdit reads what is to be made of which line; the line is empty for none.
func digestEdit(drop, reword, undo string, args []string) (line string, edit *api.DigestEdit, err error) {
	switch {
	case strings.Count(fmt.Sprint(drop != "", reword != "", undo != ""), "true") > 1:
		return "", nil, fmt.Errorf("use one of --drop, --reword and --undo at a time")
	case drop != "":
		return drop, &api.DigestEdit{Drop: true}, nil
	case undo != "":
		return undo, nil, nil
	case reword != "" && len(args) < 2:
		return "", nil, fmt.Errorf("give the text that stands for the line: jardinet digest %s --reword %s \"…\"", args[0], reword)
	case reword != "":
		return reword, &api.DigestEdit{Text: args[1]}, nil
	case len(args) == 2:
		return "", nil, fmt.Errorf("%q: a text is given with --reword ID", args[1])
	}
	return "", nil, nil
}
