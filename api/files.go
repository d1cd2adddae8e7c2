package api

import (
	"path/filepath"
	"slices"
	"strings"
)

// FileExtensions end the names of the files that are worth adding; what a file is goes by its
// content.
var FileExtensions = []string{
	".pdf", ".docx", ".odt", ".pptx", ".xlsx", ".ods", ".epub", ".rtf", ".html", ".htm", ".md", ".markdown", ".txt", ".csv", ".tsv", ".eml",
	".png", ".jpg", ".jpeg", ".tif", ".tiff", ".gif", ".bmp", ".webp", ".zip",
}

// IsDocument tells by its name whether a file is worth adding.
func IsDocument(path string) bool {
	return slices.Contains(FileExtensions, strings.ToLower(filepath.Ext(path)))
}
