package service

import (
	"bytes"
	"strings"
	"unicode/utf8"
)

// headLength is how much of a file tells what kind it is: by PDF 1.7, appendix H, the
// header may follow as much rubbish.
const headLength = 1024

func isPDF(head []byte) bool { return bytes.Contains(head, []byte("%PDF-")) }

// kinds tell files by how they begin.
var kinds = []struct{ begin, name string }{
	{"\xd0\xcf\x11\xe0", "an older Office document"},
	{`{\rtf`, "an RTF document"},
	{"\x89PNG", "a picture (PNG)"},
	{"\xff\xd8\xff", "a picture (JPEG)"},
	{"GIF8", "a picture (GIF)"},
	{"II*\x00", "a picture (TIFF)"},
	{"MM\x00*", "a picture (TIFF)"},
	{"%!PS", "a PostScript file"},
	{"\x1f\x8b", "a file packed with gzip"},
	{"Rar!", "a RAR archive"},
	{"7z\xbc\xaf", "a 7-Zip archive"},
}

// packed tell what is packed with ZIP by the names within.
var packed = []struct{ holds, name string }{
	{"word/", "a Word document"},
	{"xl/", "a workbook"},
	{"ppt/", "a presentation"},
	{"opendocument.text", "an OpenDocument text"},
	{"opendocument.spreadsheet", "an OpenDocument workbook"},
	{"opendocument.presentation", "an OpenDocument presentation"},
	{"epub+zip", "an EPUB book"},
	{"[Content_Types].xml", "an Office document"},
}

// kindOf says for people what a file is that is no PDF, by its beginning.
func kindOf(head []byte) string {
	for _, k := range kinds {
		if bytes.HasPrefix(head, []byte(k.begin)) {
			return k.name
		}
	}
	if bytes.HasPrefix(head, []byte("PK\x03\x04")) {
		for _, k := range packed {
			if bytes.Contains(head, []byte(k.holds)) {
				return k.name
			}
		}
		return "a ZIP archive"
	}
	start := strings.ToLower(strings.TrimSpace(string(head)))
	switch {
	case len(head) == 0:
		return "empty"
	case strings.HasPrefix(start, "<!doctype html") || strings.HasPrefix(start, "<html"):
		return "a web page"
	case isText(head):
		return "a text file"
	}
	return "of a kind that is not known here"
}

func isText(head []byte) bool {
	for len(head) > 0 {
		r, n := utf8.DecodeRune(head)
		if r == utf8.RuneError && n == 1 && len(head) >= utf8.UTFMax || r < ' ' && r != '\n' && r != '\r' && r != '\t' && r != '\f' {
			return false
		}
		head = head[n:]
	}
	return true
}
