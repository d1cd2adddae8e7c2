package rendition

import (
	"errors"
	"net/url"
	"path"
)

// readBook reads an EPUB book: its chapters in the order of reading, each beginning a page.
func readBook(data []byte) (*Text, error) {
	z, err := unpack(data)
	if err != nil {
		return nil, err
	}
	container, err := z.tree("META-INF/container.xml")
	if err != nil {
		return nil, err
	}
	file := container.first("rootfile")
	if file == nil {
		return nil, errors.New("it does not say where the book begins")
	}
	name := file.attr("full-path")
	root, err := z.tree(name)
	if err != nil {
		return nil, err
	}
	t := new(Text)
	if title := root.first("title"); title != nil {
		t.Title = oneLine(openText(title))
	}
	files := map[string]string{}
	root.each("item", func(n *node) { files[n.attr("id")] = n.attr("href") })
	var chapters []string
	root.each("itemref", func(n *node) { chapters = append(chapters, files[n.attr("idref")]) })
	for _, chapter := range chapters {
		if unescaped, err := url.PathUnescape(chapter); err == nil {
			chapter = unescaped
		}
		page, err := z.part(path.Join(path.Dir(name), chapter))
		if err != nil {
			return nil, err
		}
		read, err := readHTML(page)
		if err != nil {
			return nil, err
		}
		if len(read.Blocks) > 0 {
			read.Blocks[0].Apart = true
			t.Blocks = append(t.Blocks, read.Blocks...)
		}
		if read.tooLarge != nil {
			t.tooLarge = read.tooLarge
		}
	}
	return t, nil
}
