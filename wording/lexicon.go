package wording

import (
	"cmp"
	_ "embed"
	"strings"
	"sync"

	"jardinet/rank"
	"jardinet/text"
)

// A Lexicon knows which words stand for the same thing. A word may have several
// senses; what it is alike to is what stands with it in some group.
type Lexicon struct {
	entries map[string][]Like // by language and stems
	never   map[string]bool   // pairs of keys
	longest int               // words of an entry

	stemmers map[text.Language]*text.Stemmer // while entries are added
}

// A Like is a phrase that may stand for another, as folded words.
type Like struct {
	Words    []string
	Language text.Language
	Weight   float64
}

// Weights of a lexicon's likes.
const (
	groupWeight       = 0.7
	translationWeight = 0.9
	longestEntry      = 5 // words
)

// NewLexicon returns an empty lexicon.
func NewLexicon() *Lexicon {
	return &Lexicon{entries: map[string][]Like{}, never: map[string]bool{}, stemmers: map[text.Language]*text.Stemmer{}}
}

var (
	//go:embed lexicon.txt
	english string
	//go:embed german.txt
	german string
	//go:embed french.txt
	french string
)

// Default is the lexicon that comes with the program: the language of
// organisations in English, and the German and French for it.
var Default = sync.OnceValue(func() *Lexicon {
	l := NewLexicon()
	for line := range lines(english) {
		if asked, written, oneWay := strings.Cut(line, ">"); oneWay {
			l.Lead("en", groupWeight, strings.Split(asked, ","), strings.Split(written, ","))
		} else {
			l.Group("en", groupWeight, strings.Split(line, ",")...)
		}
	}
	for language, file := range map[text.Language]string{"de": german, "fr": french} {
		for line := range lines(file) {
			own, others, _ := strings.Cut(line, ":")
			l.Translate(language, strings.Split(own, ","), "en", strings.Split(others, ","))
		}
	}
	return l
})

// lines are those of a file that are neither empty nor comments.
func lines(file string) func(func(string) bool) {
	return func(yield func(string) bool) {
		for line := range strings.SplitSeq(file, "\n") {
			if line != "" && line[0] != '#' && !yield(line) {
				return
			}
		}
	}
}

// Group notes phrases of one language that stand for each other.
func (l *Lexicon) Group(language text.Language, weight float64, phrases ...string) {
	for i, a := range phrases {
		for j, b := range phrases {
			if i != j {
				l.add(language, a, Like{words(b), language, weight})
			}
		}
	}
}

// Lead notes phrases that, asked for, are answered by what is written of others,
// but not the other way about: a sandwich is food.
func (l *Lexicon) Lead(language text.Language, weight float64, asked, written []string) {
	for _, a := range asked {
		for _, b := range written {
			l.add(language, a, Like{words(b), language, weight})
		}
	}
}

// Translate notes phrases of two languages that stand for each other.
func (l *Lexicon) Translate(from text.Language, own []string, to text.Language, others []string) {
	l.Group(from, groupWeight, own...)
	for _, a := range own {
		for _, b := range others {
			l.add(from, a, Like{words(b), to, translationWeight})
			l.add(to, b, Like{words(a), from, translationWeight})
		}
	}
}

// Never notes two phrases that do not stand for each other, whatever else is
// known of them.
func (l *Lexicon) Never(language text.Language, a, b string) {
	x, y := l.key(language, words(a)), l.key(language, words(b))
	l.never[x+"\n"+y], l.never[y+"\n"+x] = true, true
}

func (l *Lexicon) add(language text.Language, phrase string, like Like) {
	own := words(phrase)
	if len(own) == 0 || len(own) > longestEntry || len(like.Words) == 0 {
		return
	}
	k := l.key(language, own)
	l.entries[k] = append(l.entries[k], like)
	l.longest = max(l.longest, len(own))
}

// words returns the folded words of a phrase.
func words(phrase string) []string {
	var out []string
	for _, t := range text.Tokens(phrase) {
		out = append(out, t.Word)
	}
	return out
}

func (l *Lexicon) key(language text.Language, phrase []string) string {
	if l.stemmers[language] == nil {
		l.stemmers[language] = text.NewStemmer(language)
	}
	return key(l.stemmers[language], language, phrase)
}

// key names a phrase by its language and stems.
func key(stemmer *text.Stemmer, language text.Language, phrase []string) string {
	stems := make([]string, len(phrase))
	for i, w := range phrase {
		stems[i] = stemmer.Stem(w)
	}
	return string(language) + ":" + strings.Join(stems, " ")
}

// find returns what a phrase is alike to. A compound that the lexicon lacks is
// alike to what its parts are.
func (l *Lexicon) find(stemmer *text.Stemmer, language text.Language, phrase []string) []Like {
	if likes := l.entries[key(stemmer, language, phrase)]; likes != nil || len(phrase) > 1 || language != "de" {
		return likes
	}
	return l.compound(stemmer, language, phrase[0])
}

// shortestPart is how many letters a part of a compound has at least.
const shortestPart = 4

// compound looks for the longest beginning and the longest end that the lexicon
// has.
func (l *Lexicon) compound(stemmer *text.Stemmer, language text.Language, word string) []Like {
	var out []Like
	look := func(part string) bool {
		likes := l.entries[key(stemmer, language, []string{part})]
		for _, like := range likes {
			like.Weight *= groupWeight
			out = append(out, like)
		}
		return likes != nil
	}
	for cut := len(word) - 3; cut >= shortestPart; cut-- {
		if look(word[:cut]) || look(strings.TrimSuffix(word[:cut], "s")) {
			break
		}
	}
	for cut := 3; cut <= len(word)-shortestPart; cut++ {
		if look(word[cut:]) {
			break
		}
	}
	return out
}

// glossaryWeight is what an entry of a glossary counts for: as much as the word
// itself.
const glossaryWeight = 1

// Glossary makes a lexicon of a collection's glossary.
func Glossary(entries []rank.Entry) *Lexicon {
	l := NewLexicon()
	for _, e := range entries {
		language := cmp.Or(e.Language, text.English)
		if e.Kind == rank.Translation {
			l.add(language, e.Term, Like{words(e.Means), e.MeansLanguage, glossaryWeight})
			l.add(e.MeansLanguage, e.Means, Like{words(e.Term), language, glossaryWeight})
			continue
		}
		l.Group(language, glossaryWeight, e.Term, e.Means)
	}
	return l
}
