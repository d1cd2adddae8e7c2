package cli

import (
	"context"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
)

func (p *program) addCommand() *cobra.Command {
	var to string
	var tags []string
	var wait string
	var source api.Source
	var every time.Duration
	cmd := &cobra.Command{
		Use:   "add FILE|DIR|URL…",
		Short: "Add documents to a collection",
		Long: `Add documents to a collection: files, and all below directories that can be
read: PDF, Word (.docx), presentations (.pptx), workbooks (.xlsx), OpenDocument
(.odt, .ods), books (.epub), web pages, Markdown, RTF, plain text, CSV and TSV,
e-mail (.eml) with what is attached, ZIP archives of these, and pictures that are
named themselves. A file whose content is there already is left as it is; one with
the name of another replaces it once it is ready. A document is found by its
words first; what its passages mean follows in the background. With --wait the
command ends when both steps are done, with --wait=words after the first, and
with a non-zero status if any document has failed. Tags are put on the
documents beside those that they have.

An address on the web is fetched by the service, which has to be started with
--fetch-host for it, and with --every again and again; with --links the PDF files
that its page links to are fetched. "jardinet sources" shows how it goes.`,
		Example: "  jardinet add manuals/ policy.pdf --to halvern --tag safety --wait\n  jardinet add https://www.example/manuals.html --links --every 24h --to halvern",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if wait != "" && until[wait] == nil {
				return fmt.Errorf("--wait=%s: choose words or meaning", wait)
			}
			if len(args) == 1 && isAddress(args[0]) {
				source.Kind, source.At, source.Minutes = "address", args[0], int(every.Minutes())
				return p.addSource(cmd.Context(), to, source)
			}
			return p.add(cmd.Context(), to, args, tags, until[wait])
		},
	}
	cmd.Flags().StringVar(&to, "to", "", "collection")
	cmd.Flags().StringArrayVar(&tags, "tag", nil, "tag of the documents (repeatable)")
	cmd.Flags().StringVar(&wait, "wait", "", "wait until all are found by their meaning too, or with --wait=words by their words")
	cmd.Flags().DurationVar(&every, "every", 0, "of an address: fetch it again after this time, such as 24h")
	cmd.Flags().BoolVar(&source.Links, "links", false, "of an address: fetch the PDF files that its page links to")
	cmd.Flags().Lookup("wait").NoOptDefVal = "meaning"
	return cmd
}

// until tells what is waited for.
var until = map[string]func(*api.Document) bool{
	"words": (*api.Document).Searchable, "meaning": (*api.Document).Settled,
}

// batch is how many files go in one request.
const batch = 50

func (p *program) add(ctx context.Context, to string, args, tags []string, done func(*api.Document) bool) error {
	paths, err := gather(args)
	if err != nil {
		return err
	}
	c, err := p.connect(ctx, &to)
	if err != nil {
		return err
	}
	var added []api.Added
	var refused []api.Refused
	for part := range slices.Chunk(paths, batch) {
		more, not, err := c.Add(ctx, to, part)
		if err != nil {
			return err
		}
		added, refused = append(added, more...), append(refused, not...)
	}
	for _, r := range refused {
		fmt.Fprintf(p.err, "jardinet: %s\n", r.Reason)
	}
	for _, a := range added {
		if len(tags) > 0 {
			if _, err := c.SetTags(ctx, to, a.Document.ID, append(a.Document.Tags, tags...)); err != nil {
				return err
			}
		}
	}
	var docs []api.Document
	for _, a := range added {
		docs = append(docs, a.Document)
	}
	if done != nil {
		if docs, err = p.watch(ctx, c, to, added, done); err != nil {
			return err
		}
	}
	if err := p.printAdded(to, added, docs, done != nil); err != nil || len(refused) == 0 {
		return err
	}
	return errQuiet
}

// gather lists the files that are meant: those named, and those in directories that can be
// read.
func gather(args []string) ([]string, error) {
	var out []string
	for _, arg := range args {
		stat, err := os.Stat(arg)
		if err != nil {
			return nil, err
		}
		if !stat.IsDir() {
			out = append(out, arg)
			continue
		}
		n := len(out)
		err = filepath.WalkDir(arg, func(path string, d fs.DirEntry, err error) error {
			if err == nil && !d.IsDir() && api.IsDocument(path) {
				out = append(out, path)
			}
			return err
		})
		if err != nil {
			return nil, err
		}
		if len(out) == n {
			return nil, fmt.Errorf("%s holds no document: no file that ends in %s", arg, strings.Join(api.FileExtensions, ", "))
		}
	}
	return out, nil
}

// watch follows the intake until all that was added is done, drawing a bar if someone
// looks on.
func (p *program) watch(ctx context.Context, c *client.Client, to string, added []api.Added, done func(*api.Document) bool) ([]api.Document, error) {
	docs := map[string]api.Document{}
	for _, a := range added {
		docs[a.Document.ID] = a.Document
	}
	started, bar := time.Now(), p.newBar()
	for {
		err := c.Events(ctx, to, func(e client.Event) bool {
			if e.Document != nil {
				if _, mine := docs[e.Document.ID]; mine {
					docs[e.Document.ID] = *e.Document
				}
			}
			if e.Removed != "" {
				delete(docs, e.Removed)
			}
			bar.draw(docs, started)
			return !(all(docs, done) && (e.Listed || e.Document != nil))
		})
		if all(docs, done) {
			break
		}
		if err != nil {
			return nil, err
		}
	}
	bar.clear()
	var out []api.Document
	for _, a := range added {
		if d, ok := docs[a.Document.ID]; ok {
			out = append(out, d)
		}
	}
	return out, nil
}

func all(docs map[string]api.Document, done func(*api.Document) bool) bool {
	for _, d := range docs {
		if !done(&d) {
			return false
		}
	}
	return true
}

// A bar shows progress on one line of a terminal.
type bar struct {
	p       *program
	show    bool
	columns int
}

func (p *program) newBar() *bar {
	columns, terminal := width(p.err)
	return &bar{p, terminal, columns}
}

func (b *bar) draw(docs map[string]api.Document, started time.Time) {
	if !b.show {
		return
	}
	done, pages, of, encoded, passages := 0, 0, 0, 0, 0
	for _, d := range docs {
		if d.Searchable() {
			done++
		}
		pages, of = pages+d.PagesDone, of+d.Pages
		encoded, passages = encoded+d.Encoded, passages+d.Passages
	}
	const cells = 24
	full := cells * done / max(1, len(docs))
	if of > 0 {
		full = cells * (done*of + pages*len(docs)) / (2 * of * max(1, len(docs)))
	}
	elapsed := time.Since(started)
	line := fmt.Sprintf("%s%s %d of %s, %d of %s, %s", strings.Repeat("█", full), strings.Repeat("░", cells-full),
		done, plural(len(docs), "document"), pages, plural(of, "page"), elapsed.Round(time.Second))
	if pages > 50 && pages < of {
		left := time.Duration(float64(elapsed) * float64(of-pages) / float64(pages))
		line += fmt.Sprintf(", about %s left", left.Round(time.Second))
	}
	if done == len(docs) && encoded < passages {
		full = cells * encoded / passages
		line = fmt.Sprintf("%s%s %s found by their words; meaning %d of %s, %s", strings.Repeat("█", full), strings.Repeat("░", cells-full),
			plural(done, "document"), encoded, plural(passages, "passage"), elapsed.Round(time.Second))
	}
	fmt.Fprintf(b.p.err, "\r\x1b[K%s", clip(line, b.columns-1))
}

func (b *bar) clear() {
	if b.show {
		fmt.Fprint(b.p.err, "\r\x1b[K")
	}
}

func (p *program) printAdded(to string, added []api.Added, docs []api.Document, waited bool) error {
	failed := 0
	for _, d := range docs {
		if d.State == "failed" {
			failed++
		}
	}
	if p.json {
		if err := p.printJSON(map[string]any{"collection": to, "added": added, "documents": docs}); err != nil {
			return err
		}
	} else {
		p.printDocuments(docs)
		duplicates := 0
		for _, a := range added {
			if a.Duplicate {
				duplicates++
			}
		}
		if duplicates > 0 {
			p.printf("%s in %s already.\n", plural(duplicates, "document"), to)
		}
		if !waited {
			p.printf("Intake goes on; look at it with: jardinet documents --in %s\n", to)
		}
	}
	if waited && failed > 0 {
		fmt.Fprintf(p.err, "jardinet: %s could not be taken in\n", plural(failed, "document"))
		return errQuiet
	}
	return nil
}

func (p *program) printDocuments(docs []api.Document) {
	header := []string{"DOCUMENT", "STATE", "PAGES", "PASSAGES", "TITLE"}
	tagged := slices.ContainsFunc(docs, func(d api.Document) bool { return len(d.Tags) > 0 })
	if tagged {
		header = append(header, "TAGS")
	}
	rows := [][]string{header}
	for _, d := range docs {
		pages := strconv.Itoa(d.Pages)
		if d.State == "reading" && d.Pages > 0 {
			pages = fmt.Sprintf("%d of %d", d.PagesDone, d.Pages)
		}
		passages := strconv.Itoa(d.Passages)
		if d.State == "ready" && d.Encoded < d.Passages {
			passages = fmt.Sprintf("meaning %d of %d", d.Encoded, d.Passages)
		}
		row := []string{d.Name, d.State, pages, passages, clip(d.Title, 50)}
		if tagged {
			row = append(row, strings.Join(d.Tags, ", "))
		}
		rows = append(rows, row)
	}
	p.table(rows)
	columns, _ := width(p.out)
	for _, d := range docs {
		if note := d.Reason + d.Warning; note != "" {
			p.printf("%s\n", wrap(note, p.paint(ochre, d.Name)+": ", "  ", columns))
		}
	}
}

func (p *program) documentsCommand() *cobra.Command {
	var in string
	cmd := &cobra.Command{
		Use:     "documents",
		Short:   "List a collection's documents and how far each has come",
		Example: "  jardinet documents --in halvern",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			docs, err := c.Documents(cmd.Context(), in)
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(map[string]any{"documents": docs})
			}
			if len(docs) == 0 {
				p.printf("No documents yet. Put some in with: jardinet add FILE… --to %s\n", in)
				return nil
			}
			p.printDocuments(docs)
			return nil
		},
	}
	cmd.Flags().StringVar(&in, "in", "", "collection")
	return cmd
}
