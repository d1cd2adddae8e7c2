// Package draw draws a table's numbers as bars, lines or points.
package draw

import (
	"bytes"
	"errors"
	"fmt"
	"image/color"

	"gonum.org/v1/plot"
	"gonum.org/v1/plot/plotter"
	"gonum.org/v1/plot/vg"
	vgdraw "gonum.org/v1/plot/vg/draw"
	_ "gonum.org/v1/plot/vg/vgimg" // draws PNG
	_ "gonum.org/v1/plot/vg/vgsvg" // draws SVG

	"jardinet/table"
)

// Kinds of charts.
const (
	Bars   = "bars"
	Line   = "line"
	Points = "points"
)

// Size of a chart in points.
const (
	wide = 640
	high = 400

	margin   = 14
	fewYears = 14 // that are all named on the axis
)

var leaf = color.RGBA{0x3f, 0x7d, 0x3a, 0xff}

// ErrNoNumbers says that a table has nothing to draw.
var ErrNoNumbers = errors.New("the table has no column of numbers to draw")

// Chart draws the numbers of a column over another: its words under bars, or its years or numbers on
// the axis of a line or of points. Columns are counted from 0; below 0 means the first that will do.
// The format is svg or png.
func Chart(t *table.Table, kind string, over, column int, format string) ([]byte, error) {
	over, column, err := columns(t, over, column)
	if err != nil {
		return nil, err
	}
	p := plot.New()
	p.Title.Text = t.Title
	p.X.Label.Text, p.Y.Label.Text = t.Columns[over].Name, t.Columns[column].Name
	p.Title.Padding, p.X.Padding, p.Y.Padding = 8, 6, 6
	if kind == "" {
		if kind = Bars; t.Columns[over].Kind == table.Year {
			kind = Line
		}
	}
	if err := add(p, t, kind, over, column); err != nil {
		return nil, err
	}
	p.Y.Min = min(p.Y.Min, 0)
	c, err := vgdraw.NewFormattedCanvas(wide, high, format)
	if err != nil {
		return nil, fmt.Errorf("draw: %w", err)
	}
	whole := vgdraw.New(c)
	whole.SetColor(color.White)
	whole.Fill(whole.Rectangle.Path())
	p.Draw(vgdraw.Crop(whole, margin, -margin, margin, -margin))
	var out bytes.Buffer
	if _, err := c.WriteTo(&out); err != nil {
		return nil, fmt.Errorf("draw: %w", err)
	}
	return out.Bytes(), nil
}

// columns chooses what is not named.
func columns(t *table.Table, over, column int) (int, int, error) {
	if over >= len(t.Columns) || column >= len(t.Columns) {
		return 0, 0, fmt.Errorf("the table has %d columns", len(t.Columns))
	}
	for i, c := range t.Columns {
		if over < 0 && c.Kind != table.Number {
			over = i
		}
		if column < 0 && c.Kind == table.Number {
			column = i
		}
	}
	if over < 0 {
		over = 0
	}
	if column < 0 || t.Columns[column].Kind == table.Words {
		return 0, 0, ErrNoNumbers
	}
	return over, column, nil
}

func add(p *plot.Plot, t *table.Table, kind string, over, column int) error {
	var values plotter.Values
	var names []string
	var points plotter.XYs
	for i, row := range t.Rows {
		y := row[column]
		if !y.IsNumber || t.IsTotal(i) {
			continue
		}
		values, names = append(values, y.Number), append(names, clipped(row[over].Text))
		x := float64(len(points))
		if row[over].IsNumber && t.Columns[over].Kind != table.Words {
			x = row[over].Number
		}
		points = append(points, plotter.XY{X: x, Y: y.Number})
	}
	if len(values) == 0 {
		return ErrNoNumbers
	}
	switch kind {
	case Bars:
		bars, err := plotter.NewBarChart(values, vg.Points(min(40, 400/float64(len(values)))))
		if err != nil {
			return fmt.Errorf("draw: %w", err)
		}
		bars.Color, bars.LineStyle.Width = leaf, 0
		p.Add(bars)
		p.NominalX(names...)
	case Line, Points:
		line, dots, err := plotter.NewLinePoints(points)
		if err != nil {
			return fmt.Errorf("draw: %w", err)
		}
		line.Color, dots.Color = leaf, leaf
		if kind == Line {
			p.Add(line)
		}
		p.Add(dots)
		if t.Columns[over].Kind == table.Year && len(points) <= fewYears {
			p.X.Tick.Marker = plot.ConstantTicks(years(points))
		}
		if t.Columns[over].Kind == table.Words {
			p.NominalX(names...)
		}
	default:
		return fmt.Errorf("a chart has %s, a %s or %s, and not %q", Bars, Line, Points, kind)
	}
	return nil
}

// years are the marks of an axis on which each year is named.
func years(points plotter.XYs) (out []plot.Tick) {
	for _, p := range points {
		out = append(out, plot.Tick{Value: p.X, Label: fmt.Sprint(int(p.X))})
	}
	return out
}

// clipped is a name that fits under a bar.
func clipped(s string) string {
	const most = 14
	if r := []rune(s); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return s
}
