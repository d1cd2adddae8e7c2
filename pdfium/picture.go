package pdfium

import (
	"fmt"
	"image"
	"image/png"
	"io"
	"jardinet/pdf"
)

// maxPixels bounds a picture; 40 megapixels is an A0 sheet at 110 dpi.
const maxPixels = 40_000_000

func (in *instance) drawPNG(w io.Writer, number int, dpi float64) error {
	picture, err := in.draw(number, dpi)
	if err != nil {
		return err
	}
	encoder := png.Encoder{CompressionLevel: png.BestSpeed}
	return encoder.Encode(w, picture)
}

func (in *instance) draw(number int, dpi float64) (*image.RGBA, error) {
	page, err := in.call("FPDF_LoadPage", uint64(in.doc), uint64(number-1))
	if err != nil {
		return nil, err
	}
	if page == 0 {
		return nil, fmt.Errorf("%w: it is damaged", pdf.ErrPageBroke)
	}
	defer in.call("FPDF_ClosePage", page)
	frame, err := in.frame(page)
	if err != nil {
		return nil, err
	}
	w := int(float64(frame.width())*dpi/72 + 0.5)
	h := int(float64(frame.height())*dpi/72 + 0.5)
	if w < 1 || h < 1 || w*h > maxPixels {
		return nil, fmt.Errorf("%w: a picture of %d × %d pixels cannot be drawn", pdf.ErrTooLarge, w, h)
	}
	bitmap, err := in.call("FPDFBitmap_Create", uint64(w), uint64(h), 0)
	if err != nil {
		return nil, err
	}
	if bitmap == 0 {
		return nil, fmt.Errorf("%w: no memory for its picture", pdf.ErrTooLarge)
	}
	defer in.call("FPDFBitmap_Destroy", bitmap)
	if _, err := in.call("FPDFBitmap_FillRect", bitmap, 0, 0, uint64(w), uint64(h), 0xffffffff); err != nil {
		return nil, err
	}
	const withAnnotations = 1
	if _, err := in.call("FPDF_RenderPageBitmap", bitmap, page, 0, 0, uint64(w), uint64(h), 0, withAnnotations); err != nil {
		return nil, err
	}
	return in.pixels(bitmap, w, h)
}

// pixels copies a bitmap out of PDFium, turning BGRx into RGBA.
func (in *instance) pixels(bitmap uint64, w, h int) (*image.RGBA, error) {
	at, err := in.call("FPDFBitmap_GetBuffer", bitmap)
	if err != nil {
		return nil, err
	}
	stride, err := in.call("FPDFBitmap_GetStride", bitmap)
	if err != nil {
		return nil, err
	}
	raw, ok := in.module.Memory().Read(uint32(at), uint32(stride)*uint32(h))
	if !ok {
		return nil, fmt.Errorf("%w: its picture is out of bounds", pdf.ErrPageBroke)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		row := raw[y*int(stride):]
		dst := out.Pix[y*out.Stride:]
		for x := 0; x < 4*w; x += 4 {
			dst[x], dst[x+1], dst[x+2], dst[x+3] = row[x+2], row[x+1], row[x], 0xff
		}
	}
	return out, nil
}
