package main

import (
	"bytes"
	"fmt"
	"os/exec"
	"strings"

	"jardinet/bench/layout/truth"
)

// typeset sets the paper with groff's ms macros, tbl and pic.
func (p *paper) typeset() ([]byte, error) {
	var b strings.Builder
	b.WriteString(".nr PO 2.4c\n.nr LL 16.2c\n.nr HM 2.6c\n.nr FM 2.4c\n.nr PS 10.5\n.nr VS 13.5\n.nr GROWPS 3\n.nr PSINCR 3\n.nr PD 0.35v\n.ds CH\n.ds CF \\s8\\\\n%\\s0\n.P1\n")
	for i, s := range p.sheets {
		left, right, _ := p.running(i) // the footer counts by itself
		fmt.Fprintf(&b, ".ds LH \\s8%s\\s0\n.ds RH \\s8%s\\s0\n", left, right)
		if i > 0 {
			if len(p.sheets[i-1].bands) > 1 {
				b.WriteString(".1C\n") // leaves the page
			} else {
				b.WriteString(".bp\n")
			}
		}
		for _, band := range s.bands {
			switch len(band.columns) {
			case 2:
				b.WriteString(".2C\n")
			case 3:
				b.WriteString(".MC 5c 0.6c\n")
			}
			for c, column := range band.columns {
				if c > 0 {
					b.WriteString(".br\n.ne 200v\n") // more than any column has left
				}
				for _, piece := range column {
					b.WriteString(roff(piece, len(band.columns)))
				}
			}
		}
	}
	cmd := exec.Command("groff", "-k", "-t", "-p", "-ms", "-Tps")
	cmd.Stdin = strings.NewReader(b.String())
	var ps, problems bytes.Buffer
	cmd.Stdout, cmd.Stderr = &ps, &problems
	if err := cmd.Run(); err != nil {
		return nil, fmt.Errorf("groff: %w: %s", err, problems.Bytes())
	}
	convert := exec.Command("gs", "-q", "-dNOPAUSE", "-dBATCH", "-sDEVICE=pdfwrite", "-sOutputFile=-", "-")
	convert.Stdin = &ps
	out, err := convert.Output()
	if err != nil {
		return nil, fmt.Errorf("gs: %w", err)
	}
	return out, nil
}

func rough(s string) string {
	var b strings.Builder
	for _, part := range shifts(s) {
		text := strings.NewReplacer(`\`, `\e`, "×", `\(mu`, "π", `\(*p`, "°", `\(de`, "−", `\(mi`, "•", `\(bu`).Replace(part.text)
		switch part.by {
		case 1:
			text = `\*{` + text + `\*}`
		case -1:
			text = `\v'.18m'\s-3` + text + `\s+3\v'-.18m'`
		}
		b.WriteString(text)
	}
	return b.String()
}

func roff(p piece, columns int) string {
	text := rough(p.Text)
	switch p.Kind {
	case truth.Heading:
		return fmt.Sprintf(".SH %d\n%s\n", p.level, text)
	case truth.Item:
		return fmt.Sprintf(".IP %s 2.5n\n%s\n", rough(p.number), strings.TrimPrefix(text, rough(p.number)+" "))
	case truth.Table:
		return tbl(p, columns)
	case truth.Figure:
		l := p.Labels
		return fmt.Sprintf(".PS\nscale=2.54\nboxht=1.1; boxwid=2.6\nA: box \"\\s8%s\\s0\"\nB: box \"\\s8%s\\s0\" at A + (4.2,0.9)\nC: box \"\\s8%s\\s0\" at A + (9,-0.6)\narrow from A.e to B.w\narrow from B.e to C.w \"\\s8%s\\s0\" above\nline from A.s down 0.8 then right 8 \"\\s8%s\\s0\" below\n.PE\n", l[0], l[1], l[2], l[3], l[4])
	case truth.Caption:
		return fmt.Sprintf(".LP\n\\s8%s\\s0\n", text)
	case truth.Note:
		return fmt.Sprintf(".sp 1v\n.LP\n\\s8%s\\s0\n", text)
	}
	if p.boxed {
		return fmt.Sprintf(".sp .4v\n.TS\nallbox;\nlw(%s).\nT{\n%s\nT}\n.TE\n", map[bool]string{true: "7c", false: "15c"}[columns > 1], text)
	}
	return fmt.Sprintf(".LP\n%s\n", text)
}

// tbl writes a table for groff's preprocessor of that name.
func tbl(p piece, columns int) string {
	var b strings.Builder
	b.WriteString(".sp .5v\n.TS\n")
	if p.ruled {
		b.WriteString("allbox ")
	}
	b.WriteString("tab(|);\n")
	n := len(p.Rows[0])
	format := func(row []string, face string) string {
		var cells []string
		for j := range row {
			switch {
			case j > 0 && row[j] == "" && face == "B":
				cells = append(cells, "s")
			case j == n-1 && len(p.Rows[2][n-1]) > 20:
				cells = append(cells, "l"+face+"w(6.5c)")
			default:
				cells = append(cells, "l"+face)
			}
		}
		return strings.Join(cells, " ")
	}
	heads := 1
	if p.Rows[1][0] == "" {
		heads = 2
	}
	for i := range heads {
		b.WriteString(format(p.Rows[i], "B") + "\n")
	}
	b.WriteString(format(p.Rows[heads], "") + ".\n")
	for i, row := range p.Rows {
		for j, cell := range row {
			if j > 0 && cell == "" && i < heads {
				continue // spanned
			}
			if j > 0 {
				b.WriteString("|")
			}
			if len(cell) > 20 && j == n-1 {
				b.WriteString("T{\n" + rough(cell) + "\nT}")
			} else {
				b.WriteString(rough(cell))
			}
		}
		b.WriteString("\n")
	}
	b.WriteString(".TE\n.sp .5v\n")
	return b.String()
}
