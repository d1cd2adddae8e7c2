package api

import (
	"path/filepath"
	"slices"
	"strings"
)

// FileExtensions end the names of the files that are taken from directories; what a file is goes
// by its content. Pictures are taken where they are named themselves: directories are full of
// such as are no documents.
var FileExtensions = []string{
	".pdf", ".docx", ".odt", ".pptx", ".xlsx", ".ods", ".epub", ".rtf", ".html", ".htm", ".md", ".markdown", ".txt", ".csv", ".tsv", ".eml", ".zip",
}

// IsDocument tells by its name whether a file in a directory is worth adding.
func IsDocument(path string) bool {
	return slices.Contains(FileExtensions, strings.ToLower(filepath.Ext(path)))
}
