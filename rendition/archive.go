package rendition

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"strings"
)

// An archive is a file packed with ZIP. No more of it is unpacked than may be, in all: a part may be
// asked for many times over.
type archive struct {
	*zip.Reader
	claimed uint64 // bytes of all parts, by what it says itself
	left    int64  // bytes that may still be unpacked
}

func unpack(data []byte) (*archive, error) {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, err
	}
	a := &archive{Reader: z, left: mostUnpacked}
	for _, f := range z.File {
		a.claimed += f.UncompressedSize64
	}
	return a, nil
}

// packed tells what is packed with ZIP by the names within.
func packed(data []byte) *format {
	a, err := unpack(data)
	if err != nil {
		return nil
	}
	for _, f := range a.File {
		switch f.Name {
		case "word/document.xml":
			return &word
		case "xl/workbook.xml":
			return &workbook
		case "ppt/presentation.xml":
			return &slides
		case "mimetype":
			kind, _ := a.part(f.Name)
			return byMIME[strings.TrimSpace(string(kind))]
		}
	}
	return nil
}

// byMIME tells what is packed by the part that says so.
var byMIME = map[string]*format{
	"application/vnd.oasis.opendocument.text":        &open,
	"application/vnd.oasis.opendocument.spreadsheet": &calc,
	"application/epub+zip":                           &book,
}

// part unpacks a part.
func (a *archive) part(name string) ([]byte, error) {
	tooLarge := fmt.Errorf("%w: unpacked it is larger than %d MiB", ErrTooLarge, mostUnpacked>>20)
	if a.claimed > mostUnpacked {
		return nil, tooLarge
	}
	f, err := a.Open(name)
	if err != nil {
		return nil, fmt.Errorf("its part %s: %w", name, err)
	}
	defer f.Close()
	// What it says of its size may be a lie.
	data, err := io.ReadAll(io.LimitReader(f, a.left+1))
	if err != nil {
		return nil, fmt.Errorf("its part %s: %w", name, err)
	}
	if a.left -= int64(len(data)); a.left < 0 {
		return nil, fmt.Errorf("its part %s: %w", name, tooLarge)
	}
	return data, nil
}

// tree unpacks a part and reads it as a tree.
func (a *archive) tree(name string) (*node, error) {
	data, err := a.part(name)
	if err != nil {
		return nil, err
	}
	n, err := parse(data)
	if err != nil {
		return nil, fmt.Errorf("its part %s: %w", name, err)
	}
	return n, nil
}
