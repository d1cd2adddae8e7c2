package rendition

import (
	"fmt"
	"path"
	"strconv"
	"strings"
)

// readSlides reads a presentation (Office Open XML): each slide on a page of its own, under its
// title, with what the speaker notes.
func readSlides(data []byte) (*Text, error) {
	z, err := unpack(data)
	if err != nil {
		return nil, err
	}
	const whole = "ppt/presentation.xml"
	root, err := z.tree(whole)
	if err != nil {
		return nil, err
	}
	targets, err := relations(z, whole)
	if err != nil {
		return nil, err
	}
	t := new(Text)
	var names []string
	root.each("sldId", func(n *node) { names = append(names, targets[n.relation()].part) })
	for i, name := range names {
		slide, err := z.tree(name)
		if err != nil {
			return nil, err
		}
		t.slide(i+1, slide)
		if notes := notesOf(z, name); notes != "" {
			t.paragraph("Notes: " + notes)
		}
	}
	return t, nil
}

// slide adds a slide: its title first, wherever it stands among the shapes.
func (t *Text) slide(number int, slide *node) {
	title := fmt.Sprintf("Slide %d", number)
	var rest []*node
	shapes := func(n *node) {
		switch place := n.first("ph"); {
		case place != nil && strings.HasSuffix(strings.ToLower(place.attr("type")), "title") && place.attr("type") != "subTitle":
			if words := oneLine(paragraphs(n)); words != "" {
				title = words
			}
		default:
			rest = append(rest, n)
		}
	}
	var walk func(*node)
	walk = func(n *node) {
		for _, c := range n.children {
			switch c.name {
			case "sp":
				shapes(c)
			case "tbl":
				rest = append(rest, c)
			default:
				walk(c)
			}
		}
	}
	walk(slide)
	t.heading(1, title)
	t.Blocks[len(t.Blocks)-1].Apart = true
	for _, n := range rest {
		if n.name == "tbl" {
			t.table(slideRows(n))
			continue
		}
		t.shape(n)
	}
}

// shape adds what is written in a shape: an item for each paragraph where slides have lists.
func (t *Text) shape(n *node) {
	place := n.first("ph")
	listed := place != nil && (place.attr("type") == "" || place.attr("type") == "body")
	if place != nil && (place.attr("type") == "sldNum" || place.attr("type") == "ftr" || place.attr("type") == "dt") {
		return // the slide's number, foot and date
	}
	n.each("p", func(p *node) {
		level := 0
		if pr := p.first("pPr"); pr != nil {
			level, _ = strconv.Atoi(pr.attr("lvl"))
		}
		if words := wordText(p); listed {
			t.item(level+1, "•", words)
		} else {
			t.paragraph(words)
		}
	})
}

func slideRows(table *node) (rows [][]string) {
	table.each("tr", func(tr *node) {
		var row []string
		tr.each("tc", func(tc *node) { row = append(row, oneLine(paragraphs(tc))) })
		rows = append(rows, row)
	})
	return rows
}

// paragraphs are the words of the paragraphs within an element.
func paragraphs(n *node) string {
	var out []string
	n.each("p", func(p *node) { out = append(out, wordText(p)) })
	return strings.Join(out, "\n")
}

// notesOf is what the speaker notes to a slide.
func notesOf(z *archive, slide string) string {
	targets, err := relations(z, slide)
	if err != nil {
		return ""
	}
	for _, target := range targets {
		if !strings.HasSuffix(target.kind, "/notesSlide") {
			continue
		}
		notes, err := z.tree(target.part)
		if err != nil {
			return ""
		}
		var out []string
		notes.each("sp", func(n *node) {
			if place := n.first("ph"); place != nil && place.attr("type") == "body" {
				out = append(out, paragraphs(n))
			}
		})
		return strings.TrimSpace(strings.Join(out, "\n"))
	}
	return ""
}

// A target is what a part of an Office file points to.
type target struct{ part, kind string }

// relations are the targets of a part by their ids.
func relations(z *archive, name string) (map[string]target, error) {
	dir, base := path.Split(name)
	root, err := z.tree(dir + "_rels/" + base + ".rels")
	if err != nil {
		return nil, err
	}
	out := map[string]target{}
	root.each("Relationship", func(n *node) {
		part := n.attr("Target")
		if !strings.HasPrefix(part, "/") {
			part = path.Join(dir, part)
		}
		out[n.attr("Id")] = target{strings.TrimPrefix(part, "/"), n.attr("Type")}
	})
	return out, nil
}

// relation is the id of what an element points to; it has an id of its own beside it.
func (n *node) relation() string {
	for _, a := range n.attrs {
		if a.Name.Local == "id" && a.Name.Space != "" {
			return a.Value
		}
	}
	return ""
}
