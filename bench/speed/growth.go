package main

import (
	"fmt"
	"image/color"
	"os"
	"path/filepath"
	"time"

	"github.com/klauspost/compress/zstd"
	"gonum.org/v1/plot"
	"gonum.org/v1/plot/plotter"
	"gonum.org/v1/plot/vg"
	"gonum.org/v1/plot/vg/draw"
	"gonum.org/v1/plot/vg/vgimg"

	"jardinet/index"
)

// A grown is what building an index has cost up to a number of passages.
type grown struct {
	Passages int     `json:"passages"`
	Seconds  float64 `json:"seconds"`
	Memory   float64 `json:"memory_mib"` // resident
}

// buildOurs indexes the corpus, a thousand passages a document and twenty
// documents a commit; it runs in a process of its own.
func buildOurs(dir string, n int) ([]grown, error) {
	start := time.Now()
	x, err := index.Open(filepath.Join(dir, "index"), space)
	if err != nil {
		return nil, err
	}
	var out []grown
	err = batches(n, 20, func(batch []index.Document, done int) error {
		if err := x.Apply(batch, nil); err != nil {
			return err
		}
		out = append(out, grown{done, time.Since(start).Seconds(), status(os.Getpid(), "VmRSS:")})
		return nil
	})
	return out, err
}

// batches makes documents of a thousand passages each of the corpus, and hands them on so many at a
// time, with how many passages there were by then.
func batches(n, documents int, take func(batch []index.Document, done int) error) error {
	vectors, err := newMixture(n)
	if err != nil {
		return err
	}
	packer, err := zstd.NewWriter(nil)
	if err != nil {
		return err
	}
	var batch []index.Document
	err = corpus(n, func(i int, p made) error {
		if i%1000 == 0 {
			if len(batch) == documents {
				if err := take(batch, i); err != nil {
					return err
				}
				batch = nil
			}
			batch = append(batch, index.Document{Key: keyOf(i)})
		}
		d := &batch[len(batch)-1]
		d.Passages = append(d.Passages, index.Passage{Heading: p.Heading, Body: p.Body, Language: "en", Stored: packer.EncodeAll([]byte(p.Body), nil), Vector: vectors.at(i)})
		return nil
	})
	if err != nil {
		return err
	}
	return take(batch, n)
}

// keyOf names the document of a passage.
func keyOf(i int) string { return fmt.Sprintf("d%06d", i/1000) }

// drawGrowth draws the cost of a thousand passages, and memory, as the
// collection grows.
func drawGrowth(points []grown, path string) error {
	if len(points) < 3 {
		return nil
	}
	var cost, memory plotter.XYs
	for i, p := range points {
		x := float64(p.Passages) / 1000
		memory = append(memory, plotter.XY{X: x, Y: p.Memory})
		if i > 0 {
			before := points[i-1]
			cost = append(cost, plotter.XY{X: x, Y: 1e6 * (p.Seconds - before.Seconds) / float64(p.Passages-before.Passages)})
		}
	}
	upper, err := curve("Indexing: cost of a passage, by commits of 20,000", "µs a passage", cost, color.RGBA{0x3f, 0x7d, 0x3a, 0xff})
	if err != nil {
		return err
	}
	lower, err := curve("Memory while indexing", "MiB resident", memory, color.RGBA{0xb5, 0x7a, 0x1c, 0xff})
	if err != nil {
		return err
	}
	lower.X.Label.Text = "thousand passages in the index"
	img := vgimg.NewWith(vgimg.UseWH(9*vg.Inch, 6*vg.Inch), vgimg.UseDPI(130))
	tiles := draw.Tiles{Rows: 2, Cols: 1, PadTop: 8, PadBottom: 8, PadLeft: 8, PadRight: 16, PadY: 14}
	canvases := plot.Align([][]*plot.Plot{{upper}, {lower}}, tiles, draw.New(img))
	upper.Draw(canvases[0][0])
	lower.Draw(canvases[1][0])
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	defer f.Close()
	if _, err := (vgimg.PngCanvas{Canvas: img}).WriteTo(f); err != nil {
		return err
	}
	return f.Close()
}

func curve(title, unit string, points plotter.XYs, ink color.Color) (*plot.Plot, error) {
	p := plot.New()
	p.Title.Text, p.Y.Label.Text = title, unit
	p.Y.Min, p.X.Min = 0, 0
	line, err := plotter.NewLine(points)
	if err != nil {
		return nil, err
	}
	line.Color, line.Width = ink, vg.Points(1.5)
	p.Add(plotter.NewGrid(), line)
	return p, nil
}
