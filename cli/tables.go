package cli

import (
	"context"
	"fmt"
	"net/url"
	"os"
	"strconv"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
)

func (p *program) tablesCommand() *cobra.Command {
	var in, as, out, chart string
	var over, column int
	var joined bool
	cmd := &cobra.Command{
		Use:   "tables DOCUMENT [NUMBER]",
		Short: "List a document's tables, or show, save or draw one",
		Long: `List a document's tables, or show one, save it as CSV, JSON or a workbook, or draw its
numbers as bars, a line or points. A table that goes on over pages is one.`,
		Example: `  jardinet tables annual-report-2025.pdf --in halvern
  jardinet tables annual-report-2025.pdf 2
  jardinet tables glasshouse-manual.pdf 4 --joined
  jardinet tables annual-report-2025.pdf 2 --as xlsx --out visitors.xlsx
  jardinet tables annual-report-2025.pdf 2 --as svg --chart line --out visitors.svg`,
		Args: cobra.RangeArgs(1, 2),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.connect(cmd.Context(), &in)
			if err != nil {
				return err
			}
			if len(args) == 1 {
				return p.listTables(cmd.Context(), c, in, args[0])
			}
			n, err := strconv.Atoi(args[1])
			if err != nil {
				return fmt.Errorf("table %q: give its number, as \"jardinet tables %s\" lists them", args[1], args[0])
			}
			if as == "" && !p.json {
				return p.showTable(cmd.Context(), c, in, args[0], n, joined)
			}
			if as == "json" || as == "" {
				t, err := c.Table(cmd.Context(), in, args[0], n, joined)
				if err != nil {
					return err
				}
				return p.printJSON(t)
			}
			query := url.Values{"joined": {strconv.FormatBool(joined)}}
			for name, value := range map[string]int{"over": over, "column": column} {
				if value > 0 {
					query.Set(name, strconv.Itoa(value))
				}
			}
			if chart != "" {
				query.Set("chart", chart)
			}
			data, err := c.TableAs(cmd.Context(), in, args[0], n, as, query)
			if err != nil {
				return err
			}
			if out != "" {
				return os.WriteFile(out, data, 0o644)
			}
			p.printf("%s", data)
			return nil
		},
	}
	f := cmd.Flags()
	f.StringVar(&in, "in", "", "collection")
	f.BoolVar(&joined, "joined", false, "with all tables of the collection that have the same columns")
	f.StringVar(&as, "as", "", "csv, json, xlsx, svg or png")
	f.StringVarP(&out, "out", "o", "", "file to write to")
	f.StringVar(&chart, "chart", "", "bars, line or points")
	f.IntVar(&over, "over", 0, "column of words or years that is drawn over, from 1")
	f.IntVar(&column, "column", 0, "column of numbers that is drawn, from 1")
	return cmd
}

func (p *program) listTables(ctx context.Context, c *client.Client, in, document string) error {
	all, err := c.Tables(ctx, in, document)
	if err != nil {
		return err
	}
	if p.json {
		return p.printJSON(map[string]any{"tables": all})
	}
	if len(all) == 0 {
		p.printf("%s has no tables.\n", document)
		return nil
	}
	rows := [][]string{{"TABLE", "PAGE", "ROWS", "COLUMNS", "TITLE"}}
	for _, t := range all {
		rows = append(rows, []string{fmt.Sprint(t.Number), fmt.Sprint(t.Page), fmt.Sprint(t.Count), fmt.Sprint(len(t.Columns)), t.Title})
	}
	p.table(rows)
	return nil
}

func (p *program) showTable(ctx context.Context, c *client.Client, in, document string, n int, joined bool) error {
	t, err := c.Table(ctx, in, document, n, joined)
	if err != nil {
		return err
	}
	p.printf("%s (page %d)\n", t.Title, t.Page)
	rows := [][]string{heads(t)}
	for _, row := range t.Rows {
		var line []string
		for _, cell := range row {
			line = append(line, cell.Text)
		}
		rows = append(rows, line)
	}
	p.table(rows)
	return nil
}

func heads(t *api.Table) (out []string) {
	for _, c := range t.Columns {
		out = append(out, c.Name)
	}
	return out
}
