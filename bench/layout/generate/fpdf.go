package main

import (
	"bytes"
	"fmt"
	"os"
	"strings"
	"time"

	"github.com/go-pdf/fpdf"

	"jardinet/bench/layout/truth"
)

// A placer sets each line itself, in millimetres.
type placer struct {
	*fpdf.Fpdf
	x, width float64 // of the column
	y        float64
	lines    int // numbered so far, -1 for none
	margin   float64
}

func (p *paper) place() ([]byte, error) {
	f := &placer{Fpdf: fpdf.New("P", "mm", "A4", "")}
	f.SetCreationDate(time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC))
	f.SetModificationDate(time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC))
	f.SetCatalogSort(true)
	f.SetTitle(p.title, true)
	f.SetAutoPageBreak(false, 0)
	for _, font := range []struct{ family, style, file string }{
		{"body", "", "liberation/LiberationSerif-Regular.ttf"}, {"body", "B", "liberation/LiberationSerif-Bold.ttf"}, {"body", "I", "liberation/LiberationSerif-Italic.ttf"},
		{"head", "", "dejavu/DejaVuSans.ttf"}, {"head", "B", "dejavu/DejaVuSans-Bold.ttf"},
	} {
		data, err := os.ReadFile("/usr/share/fonts/truetype/" + font.file)
		if err != nil {
			return nil, fmt.Errorf("%w; install fonts-liberation and fonts-dejavu-core", err)
		}
		f.AddUTF8FontFromBytes(font.family, font.style, data)
	}
	for i, s := range p.sheets {
		f.sheet(p, i, s)
	}
	var out bytes.Buffer
	err := f.Output(&out)
	return out.Bytes(), err
}

func (f *placer) sheet(p *paper, i int, s sheet) {
	width, height := 210.0, 297.0
	if s.landscape {
		width, height = height, width
		f.AddPageFormat("L", fpdf.SizeType{Wd: 210, Ht: 297})
	} else {
		f.AddPage()
	}
	left, right, foot := p.running(i)
	f.SetFont("head", "", 7.5)
	f.Text(24, 14, left)
	f.Text(width-24-f.GetStringWidth(right), 14, right)
	f.Text(width/2-2, height-12, foot)
	if s.watermark != "" {
		f.SetFont("head", "B", 80)
		f.SetTextColor(228, 224, 216)
		f.TransformBegin()
		f.TransformRotate(45, 60, 200)
		f.Text(60, 200, s.watermark)
		f.TransformEnd()
		f.SetTextColor(0, 0, 0)
	}
	f.margin, f.y, f.lines = 24, 30, -1
	if s.numbered {
		f.lines = 0
	}
	whole := width - 48
	if s.kind == "side notes" {
		whole -= 46
	}
	for _, b := range s.bands {
		n := float64(len(b.columns))
		column := (whole - 8*(n-1)) / n
		top, bottom := f.y, f.y
		for c, pieces := range b.columns {
			f.x, f.width, f.y = f.margin+float64(c)*(column+8), column, top
			for _, piece := range pieces {
				f.piece(piece)
			}
			bottom = max(bottom, f.y)
		}
		f.y = bottom + 2
	}
}

func (f *placer) piece(p piece) {
	switch {
	case p.Kind == truth.Heading:
		size := map[int]float64{1: 16, 2: 11.5}[p.level]
		f.y += 2
		if p.spaced {
			f.SetFont("head", "B", size)
			x := f.x
			for _, r := range p.Text {
				f.Text(x, f.y+size*0.28, string(r))
				x += f.GetStringWidth(string(r)) + 0.22*size*0.3528
			}
			f.y += size*0.45 + 3
			return
		}
		f.paragraph(p.Text, "head", "B", size, f.x, f.width)
		f.y += 1.5
	case p.Kind == truth.Item:
		f.SetFont("body", "", 10.5)
		f.Text(f.x, f.y+3.6, p.number)
		f.paragraph(strings.TrimPrefix(p.Text, p.number+" "), "body", "", 10.5, f.x+6, f.width-6)
		f.y += 1
	case p.Kind == truth.Table:
		f.table(p)
	case p.Kind == truth.Figure:
		f.drawing(p.Labels)
	case p.Kind == truth.Caption:
		f.paragraph(p.Text, "head", "", 7.8, f.x, f.width)
		f.y += 3
	case p.beside:
		y := f.y
		f.y = 60
		f.paragraph(p.Text, "body", "I", 8.5, f.x+f.width+8, 36)
		f.y = y
	case p.Kind == truth.Note:
		f.y += 5
		f.Line(f.x, f.y, f.x+40, f.y)
		f.y += 1.5
		f.paragraph(p.Text, "body", "", 8, f.x, f.width)
	case p.boxed:
		top := f.y + 1
		f.y += 3
		f.paragraph(p.Text, "body", "", 10.5, f.x+3, f.width-6)
		f.y += 2
		f.Rect(f.x, top, f.width, f.y-top, "D")
		f.y += 3
	default:
		f.paragraph(p.Text, "body", "", 10.5, f.x, f.width)
		f.y += 2.4
	}
}

// paragraph sets text ragged right, broken at spaces.
func (f *placer) paragraph(text, family, style string, size, x, width float64) {
	f.SetFont(family, style, size)
	space := f.GetStringWidth(" ")
	at := x
	f.newLine()
	for _, word := range strings.Fields(text) {
		wide := f.measure(word, size)
		if at > x && at+wide > x+width {
			f.y += size * 0.3528 * 1.32
			f.newLine()
			at = x
		}
		f.word(word, at, f.y+size*0.3528*0.95, size)
		at += wide + space
	}
	f.y += size * 0.3528 * 1.32
}

func (f *placer) newLine() {
	if f.lines < 0 {
		return
	}
	size, _ := f.GetFontSize()
	f.lines++
	f.SetFontSize(7)
	f.Text(14, f.y+3.6, fmt.Sprint(f.lines))
	f.SetFontSize(size)
}

func (f *placer) measure(word string, size float64) (wide float64) {
	for _, s := range shifts(word) {
		if s.by != 0 {
			f.SetFontSize(size * 0.66)
		}
		wide += f.GetStringWidth(s.text)
		f.SetFontSize(size)
	}
	return wide
}

func (f *placer) word(word string, x, y, size float64) {
	for _, s := range shifts(word) {
		up := 0.0
		if s.by != 0 {
			f.SetFontSize(size * 0.66)
			up = map[int]float64{1: 0.36, -1: -0.14}[s.by] * size * 0.3528
		}
		f.Text(x, y-up, s.text)
		x += f.GetStringWidth(s.text)
		f.SetFontSize(size)
	}
}

func (f *placer) table(p piece) {
	columns := len(p.Rows[0])
	share := make([]float64, columns)
	for i := range share {
		share[i] = 1
	}
	if len(p.Rows[2][columns-1]) > 20 {
		share[columns-1] = 2.4
	}
	share[0] = 1.3
	total := 0.0
	for _, s := range share {
		total += s
	}
	size := 9.5
	if f.width < 90 {
		size = 8
	}
	f.y += 2
	for i, row := range p.Rows {
		style := ""
		if i == 0 || row[0] == "" {
			style = "B"
		}
		top, bottom, x := f.y, f.y, f.x
		var edges []float64
		for j := 0; j < columns; j++ {
			wide := share[j] / total * f.width
			span := j
			for span+1 < columns && row[span+1] == "" && row[j] != "" {
				span++
				wide += share[span] / total * f.width
			}
			f.y = top + 1
			f.paragraph(row[j], "body", style, size, x+1.5, wide-3)
			bottom = max(bottom, f.y+1)
			edges = append(edges, x)
			x += wide
			j = span
		}
		if p.ruled {
			f.Rect(f.x, top, f.width, bottom-top, "D")
			for _, e := range edges[1:] {
				f.Line(e, top, e, bottom)
			}
		}
		f.y = bottom
	}
	f.y += 3
}

func (f *placer) drawing(labels []string) {
	top := f.y + 2
	u := f.width / 300
	box := func(x, y float64) { f.Rect(f.x+x*u, top+y*0.33, 70*u, 13, "D") }
	box(4, 30)
	box(115, 5)
	box(225, 60)
	f.Line(f.x+74*u, top+16, f.x+115*u, top+8)
	f.Line(f.x+185*u, top+8, f.x+225*u, top+26)
	f.SetFont("head", "", 7)
	for i, at := range [][2]float64{{8, 54}, {119, 29}, {229, 84}, {196, 40}, {90, 120}} {
		f.Text(f.x+at[0]*u, top+at[1]*0.33, labels[i])
	}
	f.y = top + 44
}
