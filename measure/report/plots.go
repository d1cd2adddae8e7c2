package report

import (
	"bytes"
	"fmt"
	"image/color"

	"gonum.org/v1/plot"
	"gonum.org/v1/plot/plotter"
	"gonum.org/v1/plot/vg"
	"gonum.org/v1/plot/vg/vgimg"
	"gonum.org/v1/plot/vg/vgsvg"

	"jardinet/measure"
)

// The colours of the console: leaf, ochre and quiet ink.
var (
	leaf  = color.RGBA{0x3f, 0x6b, 0x3a, 0xff}
	ochre = color.RGBA{0xc8, 0x8a, 0x1e, 0xff}
	quiet = color.RGBA{0x8a, 0x84, 0x78, 0xff}
)

// A Plot is a drawing with what it shows, in words.
type Plot struct {
	Name  string // of a file
	Title string
	Says  string
	draw  *plot.Plot
	high  vg.Length
}

const wide = 17 * vg.Centimeter

// SVG returns the plot as SVG.
func (p *Plot) SVG() ([]byte, error) {
	c := vgsvg.New(wide, p.high)
	p.draw.Draw(drawOn(c))
	var out bytes.Buffer
	if _, err := c.WriteTo(&out); err != nil {
		return nil, fmt.Errorf("report: %s: %w", p.Name, err)
	}
	return out.Bytes(), nil
}

// PNG returns the plot as PNG.
func (p *Plot) PNG() ([]byte, error) {
	c := vgimg.PngCanvas{Canvas: vgimg.NewWith(vgimg.UseWH(wide, p.high), vgimg.UseDPI(144))}
	p.draw.Draw(drawOn(c))
	var out bytes.Buffer
	if _, err := c.WriteTo(&out); err != nil {
		return nil, fmt.Errorf("report: %s: %w", p.Name, err)
	}
	return out.Bytes(), nil
}

// Plots draws what there is to draw of a measurement.
func Plots(m *measure.Measurement) ([]Plot, error) {
	var out []Plot
	for _, draw := range []func(*measure.Measurement) (*Plot, error){figuresPlot, causesPlot, riskPlot, reliabilityPlot} {
		p, err := draw(m)
		if err != nil {
			return nil, fmt.Errorf("report: %w", err)
		}
		if p != nil {
			out = append(out, *p)
		}
	}
	return out, nil
}

// figuresPlot draws every figure with its interval, the first at the top.
func figuresPlot(m *measure.Measurement) (*Plot, error) {
	if len(m.Figures) == 0 {
		return nil, nil
	}
	p := blank("")
	names := make([]string, len(m.Figures))
	points := make(plotter.XYs, len(m.Figures))
	for i, f := range m.Figures {
		y := float64(len(m.Figures) - 1 - i)
		names[len(m.Figures)-1-i] = f.Name
		points[i] = plotter.XY{X: f.Value, Y: y}
		line, err := plotter.NewLine(plotter.XYs{{X: f.Low, Y: y}, {X: f.High, Y: y}})
		if err != nil {
			return nil, err
		}
		line.Width, line.Color = vg.Points(5), color.NRGBA{leaf.R, leaf.G, leaf.B, 0x60}
		p.Add(line)
	}
	dots, err := plotter.NewScatter(points)
	if err != nil {
		return nil, err
	}
	dots.Color, dots.Shape, dots.Radius = leaf, circle, vg.Points(4)
	p.Add(dots)
	p.NominalY(names...)
	p.X.Min, p.X.Max, p.Y.Min, p.Y.Max = 0, 1, -0.6, float64(len(names))-0.4
	return &Plot{"figures", "Figures", "Each figure with its 95 % interval.", p, vg.Length(len(names))*0.75*vg.Centimeter + 1.2*vg.Centimeter}, nil
}

// causesPlot draws how many questions were lost where.
func causesPlot(m *measure.Measurement) (*Plot, error) {
	var names []string
	var counts plotter.Values
	for i := len(measure.Causes) - 1; i >= 0; i-- {
		if n := m.Causes[measure.Causes[i]]; n > 0 {
			names, counts = append(names, string(measure.Causes[i])), append(counts, float64(n))
		}
	}
	if len(names) == 0 {
		return nil, nil
	}
	p := blank("questions")
	bars, err := plotter.NewBarChart(counts, 0.45*vg.Centimeter)
	if err != nil {
		return nil, err
	}
	bars.Horizontal, bars.Color, bars.LineStyle.Width = true, ochre, 0
	p.Add(bars)
	p.NominalY(names...)
	p.X.Min = 0
	return &Plot{"causes", "Where questions were lost", "How many questions that came out wrong were lost at each place on the way from the page to the answer.", p, vg.Length(len(names))*0.8*vg.Centimeter + 2*vg.Centimeter}, nil
}

// riskPlot draws what a higher threshold would bring.
func riskPlot(m *measure.Measurement) (*Plot, error) {
	if m.Calibration == nil || len(m.Calibration.Risk) < 2 {
		return nil, nil
	}
	points := make(plotter.XYs, len(m.Calibration.Risk))
	for i, r := range m.Calibration.Risk {
		points[i] = plotter.XY{X: r.Coverage, Y: r.Risk}
	}
	line, err := plotter.NewLine(points)
	if err != nil {
		return nil, err
	}
	line.Color, line.Width = leaf, vg.Points(2)
	p := blank("share of questions that are answered")
	p.Y.Label.Text = "wrong of those"
	p.Add(plotter.NewGrid(), line)
	p.X.Min, p.X.Max, p.Y.Min = 0, 1, 0
	p.Y.Max = max(0.2, p.Y.Max)
	return &Plot{"risk", "Risk and coverage", "What share of answers would be wrong if only the surest were given.", p, 7 * vg.Centimeter}, nil
}

// reliabilityPlot draws whether the confidence can be believed.
func reliabilityPlot(m *measure.Measurement) (*Plot, error) {
	if m.Calibration == nil {
		return nil, nil
	}
	points := make(plotter.XYs, len(m.Calibration.Bins))
	for i, b := range m.Calibration.Bins {
		points[i] = plotter.XY{X: b.Confidence, Y: b.Right}
	}
	dots, err := plotter.NewScatter(points)
	if err != nil {
		return nil, err
	}
	dots.Color, dots.Shape = leaf, circle
	dots.GlyphStyleFunc = sized(dots.GlyphStyle, m.Calibration)
	even, err := plotter.NewLine(plotter.XYs{{X: 0, Y: 0}, {X: 1, Y: 1}})
	if err != nil {
		return nil, err
	}
	even.Color = quiet
	even.Dashes = []vg.Length{vg.Points(3), vg.Points(3)}
	p := blank("confidence")
	p.Y.Label.Text = "share that is right"
	p.Add(plotter.NewGrid(), even, dots)
	p.X.Min, p.X.Max, p.Y.Min, p.Y.Max = 0, 1, 0, 1
	return &Plot{"reliability", "Reliability", "Answers by their confidence, the larger the more there are; on the dashed line confidence can be believed.", p, 9 * vg.Centimeter}, nil
}
