package rendition

import (
	"bytes"
	"fmt"
	"image"
	"image/draw"
	_ "image/gif"
	"image/jpeg"
	"image/png"

	"github.com/go-pdf/fpdf"
	_ "golang.org/x/image/bmp"
	_ "golang.org/x/image/tiff"
	_ "golang.org/x/image/webp"
)

// mostPixels is how many points a picture may have.
const mostPixels = 80_000_000

// pictures tell pictures by how they begin.
var pictures = []string{"\x89PNG\r\n", "\xff\xd8\xff", "GIF8", "II*\x00", "MM\x00*", "BM", "RIFF"}

// isPicture tells whether a file is a picture that can be read.
func isPicture(data []byte) bool {
	for _, begin := range pictures {
		if bytes.HasPrefix(data, []byte(begin)) {
			_, _, err := image.DecodeConfig(bytes.NewReader(data))
			return err == nil
		}
	}
	return false
}

// readPicture makes a page of a picture, without a letter on it: its text is recognised like that
// of any page that is only a picture. Of one with several pages the first is read.
func readPicture(data []byte) (*Text, error) {
	size, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	if size.Width*size.Height > mostPixels {
		return nil, fmt.Errorf("%w: the picture has %d by %d points, and %d million are read at most", ErrTooLarge, size.Width, size.Height, mostPixels/1_000_000)
	}
	decoded, kind, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	p := &picture{kind: "PNG", width: float64(size.Width), height: float64(size.Height)}
	if kind == "jpeg" {
		p.kind = "JPEG"
		err = jpeg.Encode(&out, decoded, &jpeg.Options{Quality: 92})
	} else {
		err = png.Encode(&out, opaque(decoded))
	}
	p.data = out.Bytes()
	return &Text{picture: p}, err
}

// opaque puts a picture on white paper, with eight bits a colour.
func opaque(from image.Image) image.Image {
	b := from.Bounds()
	out := image.NewRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	draw.Draw(out, out.Bounds(), image.White, image.Point{}, draw.Src)
	draw.Draw(out, out.Bounds(), from, b.Min, draw.Over)
	return out
}

// A picture is one that fills a page.
type picture struct {
	kind          string // of its data: PNG or JPEG
	data          []byte
	width, height float64 // points of the picture
}

// pagePicture sets a picture on a page as wide as A4, or as high.
func pagePicture(t *Text) ([]byte, error) {
	p := t.picture
	scale := min(210/p.width, 297/p.height)
	if p.width > p.height {
		scale = min(297/p.width, 210/p.height)
	}
	width, height := max(p.width*scale, 10), max(p.height*scale, 10)
	s := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: width, Ht: height}})
	sameAlways(s)
	s.SetTitle(shown(oneLine(t.Title)), true)
	s.SetMargins(0, 0, 0)
	s.SetAutoPageBreak(false, 0)
	s.AddPage()
	options := fpdf.ImageOptions{ImageType: p.kind}
	s.RegisterImageOptionsReader("picture", options, bytes.NewReader(p.data))
	s.ImageOptions("picture", 0, 0, width, height, false, options, 0, "")
	var out bytes.Buffer
	if err := s.Output(&out); err != nil {
		return nil, fmt.Errorf("rendition: %w", err)
	}
	return out.Bytes(), nil
}
