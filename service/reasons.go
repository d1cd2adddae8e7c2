package service

import (
	"context"
	"errors"
	"fmt"
	"os"
	"strings"

	"jardinet/layout"
	"jardinet/modelapi"
	"jardinet/pdf"
	"jardinet/rendition"
	"jardinet/store"
)

// errNoText says that there is nothing in a file to index.
var errNoText = errors.New("no text")

// errBlank says that there is nothing on a file's pages either that could be text.
var errBlank = errors.New("nothing to read")

// reasonFor words why a file could not be taken in and what to do about it.
func reasonFor(err error) string {
	detail := err.Error()
	switch {
	case errors.Is(err, pdf.ErrNotPDF):
		return "Not a PDF file. Export it as PDF and add it again."
	case errors.Is(err, pdf.ErrPassword):
		return "A password is needed to open it. Give it, or save a copy without the password and add that."
	case errors.Is(err, pdf.ErrSecurity):
		return "It is encrypted in a way that cannot be read. Save a copy without encryption and add that."
	case errors.Is(err, pdf.ErrTooLarge), errors.Is(err, store.ErrTooLong):
		return "Too large: " + strings.TrimPrefix(detail, "the file is too large: ") + ". Split it into parts and add those."
	case errors.Is(err, errNoText):
		return strings.ToUpper(detail[:1]) + detail[1:] + ". Run text recognition over it and add the result."
	case errors.Is(err, errBlank):
		return strings.ToUpper(detail[:1]) + detail[1:] + ". See whether it is the right file; if there is text to see, export it anew."
	case errors.Is(err, errSlow):
		return "Reading it takes too long" + strings.TrimPrefix(detail, errSlow.Error()) + ". Save it anew, or split it into parts and add those."
	case errors.Is(err, os.ErrNotExist):
		return "Its original is gone from the service's files. Add the document again."
	case errors.Is(err, rendition.ErrTooLarge):
		return "It holds too much" + inBrackets(strings.TrimPrefix(cause(detail, rendition.ErrTooLarge), ": ")) + ". Split it into parts and add those."
	case errors.Is(err, rendition.ErrDamaged):
		return "Damaged: it cannot be read" + inBrackets(strings.TrimPrefix(cause(detail, rendition.ErrDamaged), ": ")) + ". Open it in the program that it was made with and save it anew, or export it as PDF."
	case errors.Is(err, pdf.ErrDamaged), errors.Is(err, pdf.ErrPageBroke):
		return "Damaged: it cannot be opened" + inBrackets(strings.TrimPrefix(strings.TrimPrefix(detail, pdf.ErrDamaged.Error()), ": ")) + ". Open it in a viewer, save it anew, or fetch a fresh copy."
	case errors.Is(err, modelapi.ErrEndpoint):
		return strings.ToUpper(detail[:1]) + detail[1:] + ". Start the embedding server, then have the file read again; or reindex the collection without it."
	case errors.Is(err, context.DeadlineExceeded):
		return "Reading it takes too long. Split it into parts and add those."
	}
	return "It could not be taken in: " + detail + ". Add it again; if it fails again, look at the service's log."
}

// cause is what an error's text says after that of another one.
func cause(detail string, after error) string {
	_, rest, _ := strings.Cut(detail, after.Error())
	return rest
}

func inBrackets(s string) string {
	if s == "" {
		return ""
	}
	return " (" + s + ")"
}

// judgePages looks for pages without text. If no page has any, that is an
// error; if some are pictures or cannot be read, a warning.
func judgePages(doc *layout.Document) (warning string, err error) {
	var pictures, broken []int
	text := 0
	for _, p := range doc.Pages {
		for _, b := range p.Blocks {
			text += len(b.Text)
		}
		switch {
		case strings.HasPrefix(p.Problem, "no text"):
			pictures = append(pictures, p.Number)
		case p.Problem != "":
			broken = append(broken, p.Number)
		}
	}
	if text == 0 {
		if len(broken) > 0 {
			return "", fmt.Errorf("%w: %s", pdf.ErrDamaged, "no page can be read")
		}
		if len(pictures) == 0 {
			return "", fmt.Errorf("%w on %s: no letter was found", errBlank, pageRange(allPages(doc)))
		}
		return "", fmt.Errorf("%w on %s: %s", errNoText, pageRange(pictures), picturesOnly(len(pictures)))
	}
	var parts []string
	if len(pictures) > 0 {
		parts = append(parts, "No text on "+pageRange(pictures)+": "+picturesOnly(len(pictures))+", which cannot be searched.")
	}
	if len(broken) > 0 {
		parts = append(parts, "Damaged, not read: "+pageRange(broken)+".")
	}
	return strings.Join(parts, " "), nil
}

func picturesOnly(n int) string {
	if n == 1 {
		return "it is only a picture"
	}
	return "they are only pictures"
}

func allPages(doc *layout.Document) []int {
	out := make([]int, len(doc.Pages))
	for i := range out {
		out[i] = doc.Pages[i].Number
	}
	return out
}

// pageRange words a sorted list of pages: "page 4", "pages 3–5 and 9".
func pageRange(pages []int) string {
	var parts []string
	for i := 0; i < len(pages); {
		j := i
		for j+1 < len(pages) && pages[j+1] == pages[j]+1 {
			j++
		}
		if j > i {
			parts = append(parts, fmt.Sprintf("%d–%d", pages[i], pages[j]))
		} else {
			parts = append(parts, fmt.Sprint(pages[i]))
		}
		i = j + 1
	}
	word := "pages "
	if len(pages) == 1 {
		word = "page "
	}
	if n := len(parts) - 1; n > 0 {
		return word + strings.Join(parts[:n], ", ") + " and " + parts[n]
	}
	return word + strings.Join(parts, "")
}
