package report

import (
	"image/color"
	"math"

	"gonum.org/v1/plot"
	"gonum.org/v1/plot/vg"
	"gonum.org/v1/plot/vg/draw"

	"jardinet/measure"
)

var circle = draw.CircleGlyph{}

// drawOn leaves room at the edges for what stands at the ends of axes.
func drawOn(c vg.CanvasSizer) draw.Canvas { return draw.Crop(draw.New(c), 6, -14, 4, -10) }

// blank returns a plot in the style of all.
func blank(x string) *plot.Plot {
	p := plot.New()
	p.X.Label.Text = x
	p.BackgroundColor = color.Transparent
	for _, a := range []*plot.Axis{&p.X, &p.Y} {
		a.Label.TextStyle.Font.Size, a.Tick.Label.Font.Size = vg.Points(10), vg.Points(10)
		a.Label.TextStyle.Font.Variant, a.Tick.Label.Font.Variant = "Sans", "Sans"
		a.LineStyle.Color, a.Tick.LineStyle.Color = quiet, quiet
	}
	return p
}

// sized draws the dot of a bin the larger the more answers are in it.
func sized(style draw.GlyphStyle, c *measure.Calibration) func(int) draw.GlyphStyle {
	return func(i int) draw.GlyphStyle {
		style.Radius = vg.Points(3 + 12*math.Sqrt(float64(c.Bins[i].Answers)/float64(c.Answers)))
		return style
	}
}
