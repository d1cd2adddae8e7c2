package pdfium

import (
	"encoding/binary"
	"jardinet/pdf"
	"math"
	"strings"
)

// Bounds on an outline, against loops and floods.
const (
	maxBookmarks = 20_000
	maxDepth     = 12
)

// outline reads the bookmarks depth first, as a reader would see them.
func (in *instance) outline() ([]pdf.Bookmark, error) {
	var out []pdf.Bookmark
	seen := map[uint64]bool{}
	var walk func(parent uint64, level int) error
	walk = func(parent uint64, level int) error {
		mark, err := in.call("FPDFBookmark_GetFirstChild", uint64(in.doc), parent)
		for ; err == nil && mark != 0 && !seen[mark] && len(out) < maxBookmarks; mark, err = in.call("FPDFBookmark_GetNextSibling", uint64(in.doc), mark) {
			seen[mark] = true
			b, err := in.bookmark(mark)
			if err != nil {
				return err
			}
			b.Level = level
			out = append(out, b)
			if level < maxDepth {
				if err := walk(mark, level+1); err != nil {
					return err
				}
			}
		}
		return err
	}
	err := walk(0, 1)
	return out, err
}

func (in *instance) bookmark(mark uint64) (pdf.Bookmark, error) {
	title, err := in.utf16(func(at, size uint64) (uint64, error) {
		return in.call("FPDFBookmark_GetTitle", mark, at, size)
	})
	b := pdf.Bookmark{Title: strings.Join(strings.Fields(title), " "), Y: -1}
	if err != nil {
		return b, err
	}
	dest, err := in.call("FPDFBookmark_GetDest", uint64(in.doc), mark)
	if err != nil {
		return b, err
	}
	if dest == 0 {
		action, err := in.call("FPDFBookmark_GetAction", mark)
		if err != nil || action == 0 {
			return b, err
		}
		if dest, err = in.call("FPDFAction_GetDest", uint64(in.doc), action); err != nil || dest == 0 {
			return b, err
		}
	}
	page, err := in.call("FPDFDest_GetDestPageIndex", uint64(in.doc), dest)
	if err != nil {
		return b, err
	}
	b.Page = int(int32(page)) + 1
	b.Y, err = in.destTop(dest, b.Page)
	return b, err
}

// destTop returns the Y of a destination on the displayed page, -1 if it has
// none. Rotated pages are left at -1: their outlines rarely hold a position.
func (in *instance) destTop(dest uint64, page int) (float32, error) {
	at := uint64(in.scratch)
	ok, err := in.call("FPDFDest_GetLocationInPage", dest, at, at+4, at+8, at+12, at+16, at+20)
	if err != nil || ok == 0 || page < 1 {
		return -1, err
	}
	raw, readable := in.module.Memory().Read(in.scratch, 20)
	if !readable || binary.LittleEndian.Uint32(raw[4:]) == 0 {
		return -1, nil
	}
	y := math.Float32frombits(binary.LittleEndian.Uint32(raw[16:]))
	if _, err := in.call("FPDF_GetPageSizeByIndexF", uint64(in.doc), uint64(page-1), at); err != nil {
		return -1, err
	}
	height := in.floats(2)[1]
	if y < 0 || y > height {
		return -1, nil
	}
	return height - y, nil
}
