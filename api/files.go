package api

// FileExtensions end the names of the files that are worth adding; what a file is goes by its
// content.
var FileExtensions = []string{".pdf", ".docx", ".odt", ".pptx", ".xlsx", ".ods", ".epub", ".html", ".htm", ".md", ".markdown", ".txt", ".csv", ".tsv", ".eml"}
