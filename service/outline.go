package service

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"

	"golang.org/x/image/font"
	"golang.org/x/image/font/basicfont"
	"golang.org/x/image/math/fixed"

	"jardinet/layout"
)

// inks are the colours of outlines; the console's are the same.
var inks = map[layout.Kind]color.RGBA{
	layout.Heading:   {0x2f, 0x5d, 0x8a, 0xff},
	layout.Paragraph: {0x3f, 0x7d, 0x3a, 0xff},
	layout.ListItem:  {0x1f, 0x80, 0x7a, 0xff},
	layout.Table:     {0xb0, 0x74, 0x14, 0xff},
	layout.Figure:    {0x8a, 0x3f, 0x6b, 0xff},
	layout.Caption:   {0x8a, 0x6d, 0x3f, 0xff},
	layout.Footnote:  {0x5f, 0x5f, 0x5f, 0xff},
	layout.Contents:  {0x5f, 0x5f, 0x5f, 0xff},
	layout.Furniture: {0xa0, 0x98, 0x88, 0xff},
}

// Outlined draws the outlines of a page's blocks, and their numbers and kinds,
// onto its picture.
func (s *Service) Outlined(ctx context.Context, collection, name string, number int, picture []byte) ([]byte, error) {
	page, err := s.Page(ctx, collection, name, number)
	if err != nil {
		return nil, err
	}
	decoded, err := png.Decode(bytes.NewReader(picture))
	if err != nil {
		return nil, fmt.Errorf("service: picture of page %d: %w", number, err)
	}
	canvas := image.NewRGBA(decoded.Bounds())
	draw.Draw(canvas, canvas.Bounds(), decoded, image.Point{}, draw.Src)
	scale := float32(canvas.Bounds().Dx()) / page.Width
	for i, b := range page.Blocks {
		ink := inks[layout.Kind(b.Kind)]
		box := image.Rect(int(b.Box.X0*scale)-2, int(b.Box.Y0*scale)-2, int(b.Box.X1*scale)+2, int(b.Box.Y1*scale)+2)
		frame(canvas, box, ink)
		label(canvas, box, fmt.Sprintf("%d %s", i+1, b.Kind), ink)
	}
	var out bytes.Buffer
	err = png.Encode(&out, canvas)
	return out.Bytes(), err
}

func frame(on draw.Image, box image.Rectangle, ink color.Color) {
	fill := image.NewUniform(ink)
	for _, side := range []image.Rectangle{
		{box.Min, image.Pt(box.Max.X, box.Min.Y+2)}, {image.Pt(box.Min.X, box.Max.Y-2), box.Max},
		{box.Min, image.Pt(box.Min.X+2, box.Max.Y)}, {image.Pt(box.Max.X-2, box.Min.Y), box.Max},
	} {
		draw.Draw(on, side, fill, image.Point{}, draw.Src)
	}
}

// label writes a block's number and kind to the left of its upper edge, or on
// it where the margin is too narrow.
func label(on draw.Image, box image.Rectangle, text string, ink color.Color) {
	face := basicfont.Face7x13
	wide := font.MeasureString(face, text).Ceil() + 4
	at := image.Rect(box.Min.X-wide, box.Min.Y, box.Min.X, box.Min.Y+13)
	if at.Min.X < 0 {
		at = at.Add(image.Pt(-at.Min.X, -13))
	}
	draw.Draw(on, at, image.NewUniform(ink), image.Point{}, draw.Src)
	d := font.Drawer{Dst: on, Src: image.White, Face: face, Dot: fixed.P(at.Min.X+2, at.Max.Y-3)}
	d.DrawString(text)
}
