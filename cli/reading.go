package cli

import (
	"errors"
	"fmt"
	"os"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/layout"
)

func (p *program) pageCommand() *cobra.Command {
	var in, png string
	var outlines bool
	var dpi int
	cmd := &cobra.Command{
		Use:     "page DOCUMENT NUMBER",
		Short:   "Show what was read from a page, block by block",
		Example: "  jardinet page glasshouse-manual.pdf 14 --in halvern\n  jardinet page glasshouse-manual.pdf 14 --in halvern --png page.png --outlines",
		Args:    cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			number, err := strconv.Atoi(args[1])
			if err != nil {
				return fmt.Errorf("page %q: give the physical page, counted from 1", args[1])
			}
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			page, err := c.Page(cmd.Context(), in, args[0], number)
			if err != nil {
				return err
			}
			if png != "" {
				picture, err := c.Picture(cmd.Context(), in, args[0], number, dpi, outlines)
				if err != nil {
					return err
				}
				if err := os.WriteFile(png, picture, 0o644); err != nil {
					return err
				}
			}
			if p.json {
				return p.printJSON(page)
			}
			p.printPage(page)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringVar(&png, "png", "", "write the page's picture to this file")
	cmd.Flags().IntVar(&dpi, "dpi", 110, "resolution of the picture")
	cmd.Flags().BoolVar(&outlines, "outlines", false, "draw the blocks' outlines and order into the picture")
	return cmd
}

func (p *program) printPage(page *api.Page) {
	columns, _ := width(p.out)
	p.printf("%s of %d\n", p.paint(bold, place(page.Document, page.Number, page.Label, nil)), page.Of)
	p.printFindings(page.Findings)
	for i, b := range page.Blocks {
		kind := b.Kind
		if b.Level > 0 {
			kind += " " + strconv.Itoa(b.Level)
		}
		if b.Corrected {
			kind += ", corrected"
		}
		p.printf("%s\n", p.paint(faint, fmt.Sprintf("%3d  %s  at %.0f,%.0f to %.0f,%.0f pt", i+1, kind, b.Box.X0, b.Box.Y0, b.Box.X1, b.Box.Y1)))
		p.printf("%s\n", wrap(b.Text, "     ", "     ", columns))
	}
}

// printFindings lists what was found about a page, with what to do.
func (p *program) printFindings(findings []api.Finding) {
	columns, _ := width(p.out)
	for _, f := range findings {
		style := faint
		if f.Severity == string(layout.Fault) {
			style = red
		}
		p.printf("%s\n", p.paint(style, wrap(f.Severity+": "+f.Text+". "+f.Advice, "  ! ", "    ", columns)))
	}
}

func (p *program) findingsCommand() *cobra.Command {
	var in string
	var top int
	cmd := &cobra.Command{
		Use:   "findings [DOCUMENT]",
		Short: "List the pages that most should be looked at, the worst first",
		Long: `List the pages that most should be looked at, the worst first: pages without
text, with text that no font explains, read from a picture with little
confidence, with tables whose columns do not line up, and so on. A page's score
is 100 where nothing was found.`,
		Example: "  jardinet findings --in halvern\n  jardinet findings glasshouse-manual.pdf --in halvern --top 5",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			document := ""
			if len(args) > 0 {
				document = args[0]
			}
			pages, of, err := c.WorstPages(cmd.Context(), in, document, top)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"pages": pages, "of": of})
			}
			if of == 0 {
				p.printf("Nothing was found amiss.\n")
				return nil
			}
			for _, page := range pages {
				p.printf("%3d  %s\n", page.Score, p.paint(bold, place(page.Document, page.Number, page.Label, nil)))
				p.printFindings(page.Findings)
			}
			if of > len(pages) {
				p.printf("%d more pages have findings; --top shows more.\n", of-len(pages))
			}
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().IntVar(&top, "top", 20, "how many pages")
	return cmd
}

func (p *program) exportCommand() *cobra.Command {
	var in, as, out string
	cmd := &cobra.Command{
		Use:     "export DOCUMENT",
		Short:   "Write what was read of a document as Markdown, JSON or plain text",
		Example: "  jardinet export seed-vault-manual.pdf --in halvern --as markdown > manual.md",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			data, err := c.Export(cmd.Context(), in, args[0], as)
			if err != nil {
				return err
			}
			if out != "" {
				return os.WriteFile(out, data, 0o644)
			}
			_, err = p.out.Write(data)
			return err
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	cmd.Flags().StringVar(&as, "as", "markdown", "markdown, html, json or text")
	cmd.Flags().StringVarP(&out, "out", "o", "", "file to write, instead of standard output")
	return cmd
}

func (p *program) readCommand() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "read DOCUMENT…",
		Short:   "Read documents anew, with corrections applied again",
		Example: "  jardinet read boiler-memo-scan.pdf --in halvern",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			for _, document := range args {
				if err := c.ReadAgain(cmd.Context(), in, document); err != nil {
					return err
				}
			}
			docs, err := c.Settle(cmd.Context(), in, (*api.Document).Searchable)
			if err != nil {
				return err
			}
			p.printDocuments(docs)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}

// A correction is the flags of the command of that name.
type correction struct {
	in, kind, text   string
	block, to        int
	drop, clear      bool
	recognise, leave bool
}

func (p *program) correctCommand() *cobra.Command {
	var f correction
	cmd := &cobra.Command{
		Use:   "correct DOCUMENT PAGE",
		Short: "Correct what was read from a page",
		Long: `Correct what was read from a page: the kind, text or place of a block, given by
its number as "jardinet page" shows it. Corrections are kept by the page's
content and applied again whenever a document has that page; the index follows
at once.`,
		Example: `  jardinet correct seed-vault-manual.pdf 5 --block 3 --kind heading
  jardinet correct seed-vault-manual.pdf 5 --block 4 --text "10⁸ seeds"
  jardinet correct seed-vault-manual.pdf 5 --block 2 --drop
  jardinet correct seed-vault-manual.pdf 5 --block 6 --to 3
  jardinet correct seed-vault-manual.pdf 5 --recognise
  jardinet correct seed-vault-manual.pdf 5 --clear`,
		Args: cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			number, err := strconv.Atoi(args[1])
			if err != nil {
				return fmt.Errorf("page %q: give the physical page, counted from 1", args[1])
			}
			return p.correct(cmd, args[0], number, f)
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&f.in, "in", "", "collection")
	flags.IntVar(&f.block, "block", 0, "number of the block")
	flags.StringVar(&f.kind, "kind", "", "what the block is: heading, paragraph, list, table, caption, footnote, figure, contents or furniture")
	flags.StringVar(&f.text, "text", "", "what the block says; a table's rows a line each, cells apart by |")
	flags.BoolVar(&f.drop, "drop", false, "the block is no part of the text")
	flags.IntVar(&f.to, "to", 0, "the block's place in the reading order, from 1")
	flags.BoolVar(&f.recognise, "recognise", false, "read the page's text from its picture")
	flags.BoolVar(&f.leave, "no-recognise", false, "take the file's own text again")
	flags.BoolVar(&f.clear, "clear", false, "forget all corrections of the page")
	return cmd
}

func (p *program) correct(cmd *cobra.Command, document string, number int, f correction) error {
	ctx := cmd.Context()
	c, err := p.connect(ctx, &f.in)
	if err != nil {
		return err
	}
	now, err := c.Corrections(ctx, f.in, document, number)
	if err != nil {
		return err
	}
	before := now.Recognise
	if f.clear {
		now = &layout.Corrections{Edits: []layout.Edit{}}
	}
	if f.recognise || f.leave {
		now.Recognise = f.recognise
	}
	if f.block > 0 {
		page, err := c.Page(ctx, f.in, document, number)
		if err != nil {
			return err
		}
		if f.block > len(page.Blocks) {
			return fmt.Errorf("page %d has %d blocks; jardinet page %s %d shows them", number, len(page.Blocks), document, number)
		}
		now.Edits = amend(now.Edits, layout.Edit{Was: page.Blocks[f.block-1].Was, Kind: layout.Kind(f.kind), Text: strings.ReplaceAll(f.text, `\n`, "\n"), Drop: f.drop, To: f.to})
	} else if f.kind != "" || f.text != "" || f.drop || f.to > 0 {
		return errors.New("give the number of the block with --block")
	}
	if err := c.Correct(ctx, f.in, document, number, now); err != nil {
		return err
	}
	if before != now.Recognise {
		if _, err := c.Settle(ctx, f.in, (*api.Document).Searchable); err != nil {
			return err
		}
	}
	page, err := c.Page(ctx, f.in, document, number)
	if err != nil {
		return err
	}
	p.printPage(page)
	return nil
}

// amend adds an edit, or what it changes to the edit that there is of its block.
func amend(edits []layout.Edit, e layout.Edit) []layout.Edit {
	for i := range edits {
		if old := &edits[i]; old.Was == e.Was {
			if e.Kind != "" {
				old.Kind = e.Kind
			}
			if e.Text != "" {
				old.Text = e.Text
			}
			if e.To > 0 {
				old.To = e.To
			}
			old.Drop = old.Drop || e.Drop
			return edits
		}
	}
	return append(edits, e)
}
