package text

import (
	"strings"

	"github.com/blevesearch/snowballstem"
	"github.com/blevesearch/snowballstem/dutch"
	"github.com/blevesearch/snowballstem/english"
	"github.com/blevesearch/snowballstem/french"
	"github.com/blevesearch/snowballstem/german"
	"github.com/blevesearch/snowballstem/italian"
	"github.com/blevesearch/snowballstem/portuguese"
	"github.com/blevesearch/snowballstem/spanish"
)

var stemmers = map[Language]func(*snowballstem.Env) bool{
	"en": english.Stem, "fr": french.Stem, "de": german.Stem, "es": spanish.Stem,
	"it": italian.Stem, "pt": portuguese.Stem, "nl": dutch.Stem,
}

// irregular maps English forms that no suffix rule reaches to their base.
var irregular = bases(`man men|woman women|child children|foot feet|tooth teeth|goose geese|mouse mice|leaf leaves|life lives
	knife knives|shelf shelves|half halves|loaf loaves|wolf wolves|thief thieves|person persons|criterion criteria|phenomenon phenomena
	analysis analyses|axis axes|basis bases|crisis crises|larva larvae|alga algae|fungus fungi|nucleus nuclei|radius radii
	stimulus stimuli|bacterium bacteria|medium media|index indices|matrix matrices|vertex vertices|appendix appendices|ox oxen
	arise arose arisen|awake awoke awoken|beat beaten|become became|begin began begun|bend bent|bind bound|bite bit bitten
	bleed bled|blow blew blown|break broke broken|breed bred|bring brought|build built|burn burnt|buy bought|catch caught
	choose chose chosen|cling clung|come came|creep crept|deal dealt|dig dug|draw drew drawn|drink drank drunk|drive drove driven
	dry dried|eat ate eaten|fall fell fallen|feed fed|feel felt|fight fought|find found|flee fled|fly flew flown
	forbid forbade forbidden|forget forgot forgotten|forgive forgave forgiven|freeze froze frozen|get got gotten|give gave given
	go went gone|grow grew grown|hang hung|hear heard|hide hid hidden|hold held|keep kept|kneel knelt|know knew known
	lay laid|lead led|lean leant|leave left|lend lent|lose lost|make made|mean meant|meet met|overcome overcame
	overrun overran|pay paid|ride rode ridden|ring rang rung|rise rose risen|run ran|say said|seek sought|sell sold|send sent
	shake shook shaken|shine shone|shoot shot|shrink shrank shrunk|sing sang sung|sink sank sunk|sit sat|sleep slept|slide slid
	speak spoke spoken|speed sped|spell spelt|spend spent|spill spilt|spin spun|spring sprang sprung|stand stood|steal stole stolen
	stick stuck|sting stung|strike struck stricken|strive strove striven|swear swore sworn|sweep swept|swell swollen|swim swam swum
	swing swung|take took taken|teach taught|tear tore torn|tell told|think thought|throw threw thrown|understand understood
	undertake undertook undertaken|wake woke woken|wear wore worn|weave wove woven|win won|withdraw withdrew withdrawn
	withhold withheld|withstand withstood|write wrote written`)

// bases reads families of forms, each beginning with its base.
func bases(families string) map[string]string {
	out := map[string]string{}
	for line := range strings.Lines(families) {
		for family := range strings.SplitSeq(line, "|") {
			forms := strings.Fields(family)
			for _, form := range forms[1:] {
				out[form] = forms[0]
			}
		}
	}
	return out
}

// A Stemmer reduces words to stems and remembers what it has reduced, since a
// collection repeats its words. It serves one goroutine.
type Stemmer struct {
	language Language
	stem     func(*snowballstem.Env) bool
	known    map[string]string
}

// stemmerMemory bounds a Stemmer's memory; real vocabularies are smaller.
const stemmerMemory = 100_000

// NewStemmer returns a stemmer; a language without one leaves words as they are.
func NewStemmer(language Language) *Stemmer {
	return &Stemmer{language, stemmers[language], map[string]string{}}
}

// Stem returns the stem of a folded word. Numbers are their own stems.
func (s *Stemmer) Stem(word string) string {
	if s.stem == nil || len(word) < 3 || word[0] >= '0' && word[0] <= '9' {
		return word
	}
	if stem, ok := s.known[word]; ok {
		return stem
	}
	base := word
	if s.language == English {
		if b, ok := irregular[word]; ok {
			base = b
		}
	}
	env := snowballstem.NewEnv(base)
	s.stem(env)
	stem := env.Current()
	if len(s.known) >= stemmerMemory {
		clear(s.known)
	}
	s.known[word] = stem
	return stem
}

// Content returns the stems of a text's words that are not mere grammar, in their order.
func (s *Stemmer) Content(t string) []string {
	var out []string
	for _, token := range Tokens(t) {
		if !IsFunctionWord(token.Word, s.language) {
			out = append(out, s.Stem(token.Word))
		}
	}
	return out
}
