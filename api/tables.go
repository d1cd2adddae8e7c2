package api

import "jardinet/answer"

// A Table is one table of a document.
type Table struct {
	Number  int           `json:"number"` // in the document, from 1
	Title   string        `json:"title"`  // its caption, else the heading that it stands under
	Section []string      `json:"section"`
	Page    int           `json:"page"` // physical; that it begins on
	Label   string        `json:"label"`
	Columns []TableColumn `json:"columns"`
	Count   int           `json:"count"`          // of rows
	Rows    [][]TableCell `json:"rows,omitempty"` // of one table, as many cells as columns
}

// A TableColumn is one of a table.
type TableColumn struct {
	Name string `json:"name"`
	Unit string `json:"unit"` // that its numbers are in, empty for none
	Kind string `json:"kind"` // words, number or year
}

// A TableCell is one of a table.
type TableCell struct {
	Text   string      `json:"text"`
	Number *float64    `json:"number,omitempty"` // if it is one
	Page   int         `json:"page"`             // 0 for an empty one
	Box    *answer.Box `json:"box,omitempty"`

	Document string `json:"document,omitempty"` // of a table that is joined from several
}
