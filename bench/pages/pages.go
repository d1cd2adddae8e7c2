// Package pages reads whole files for measuring, as intake does page by page.
package pages

import (
	"context"

	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/pdfium"
)

// Read reads a file with our own layout analysis.
func Read(ctx context.Context, engine *pdfium.Engine, path string) (*layout.Document, error) {
	file, err := engine.Open(ctx, path, "")
	if err != nil {
		return nil, err
	}
	sheets := make([]*layout.Sheet, file.Info.Pages)
	err = file.ReadPages(ctx, 1, file.Info.Pages, func(page *pdf.Page, err error) error {
		sheets[page.Number-1] = layout.Read(page, err)
		return nil
	})
	if err != nil {
		return nil, err
	}
	return layout.Assemble(&file.Info, sheets), nil
}
