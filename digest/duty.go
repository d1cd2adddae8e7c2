package digest

import (
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/layout"
	"jardinet/text"
)

// A Force says whether a duty is one.
type Force string

// Forces of duties.
const (
	Must    Force = "must"
	MustNot Force = "must not"
	Should  Force = "should"
	May     Force = "may"
)

// A Duty is a sentence that says what must, must not, should or may be done.
type Duty struct {
	Force  Force
	Who    string // or what: the words before the verb, empty where nobody is named
	Number string // of the requirement, as it stands in the text: "3.2", "(b)"
	Quote  Quote
}

// modals are the words by which a language says so, in the order in which they are looked for:
// what forbids is said with the words of what obliges or allows.
type modals struct {
	force Force
	words *regexp.Regexp
}

func modal(force Force, words ...string) modals {
	return modals{force, regexp.MustCompile(`(?i)(^|[^\pL])(` + strings.Join(words, "|") + `)($|[^\pL])`)}
}

var duties = map[text.Language][]modals{
	text.English: {
		modal(MustNot, `must (?:never|not|on no account)`, `mustn['’]t`, `shall not`, `may not`, `may never`, `(?:is|are) (?:not|never) (?:allowed|permitted|to)`, `(?:is|are) (?:[\pL]+ )?(?:forbidden|prohibited)`, `should not`, `should never`),
		{MustNot, regexp.MustCompile(`(?i)(^(?:please )?|[,;:]\s(?:and |but |so )?|\s(?:and|but|so|please)\s)(do not|don['’]t|never|on no account|under no circumstances)($|[^\pL])`)},
		{MustNot, regexp.MustCompile(`^()((?:No one|Nobody|None of [\pL ]+)(?:,? who [^,]*,)? (?:who [\pL ,]+? )?(?:is|are|may|can|must|[\pL]+s)|No [\pL-]+(?: [\pL-]+)? (?:is|are|may|can|[\pL]+s)|Nothing (?:is|may))($|[^\pL])`)},
		modal(MustNot, `are never`, `is never`),
		modal(May, `need not`, `needn['’]t`, `(?:does|do)(?: not|n['’]t) (?:have|need) to`),
		modal(Must, `must`, `shall`, `(?:has|have) to`, `(?:is|are) (?:required|obliged) to`, `(?:is|are) to be`, `needs? to`, `(?:is|are) responsible for`, `(?:is|are) answerable for`, `needs? (?:the |an? )?(?:written )?(?:agreement|approval|consent|permission)`),
		modal(Should, `should`, `ought to`, `(?:is|are) advised to`, `(?:is|are) recommended`),
		{May, regexp.MustCompile(`(^|[^\pL])(may|(?:is|are) (?:allowed|permitted|entitled) to)($|[^\pL])`)}, // May is a month
	},
	"fr": {
		modal(MustNot, `ne (?:doit|doivent|peut|peuvent) (?:pas|jamais|en aucun cas|être)`, `(?:est|sont) (?:strictement )?interdite?s?`, `il est (?:strictement )?(?:interdit|défendu)`),
		modal(Must, `doit`, `doivent`, `il faut`, `(?:est|sont) tenue?s? de`, `(?:est|sont) obligatoires?`, `(?:a|ont) l'obligation de`),
		modal(Should, `devrait`, `devraient`, `il est conseillé`, `il est recommandé`),
		modal(May, `peut`, `peuvent`, `il est permis`, `(?:est|sont) autorisée?s?`),
	},
	"de": {
		modal(MustNot, `(?:darf|dürfen)(?: [^,.;]*)? (?:nicht|nie|niemals|keine?[nrsm]?)`, `(?:ist|sind)(?: [^,.;]*)? (?:verboten|untersagt)`, `(?:soll|sollen)(?: [^,.;]*)? (?:nicht|nie|niemals)`),
		modal(Must, `muss`, `müssen`, `(?:ist|sind) verpflichtet`, `(?:hat|haben)(?: [^,.;]*)? zu [\pL]+en`),
		modal(Should, `soll`, `sollen`, `sollte`, `sollten`, `(?:wird|ist) empfohlen`),
		modal(May, `darf`, `dürfen`, `(?:ist|sind) (?:erlaubt|gestattet|berechtigt)`),
	},
}

// fewest and most words of a sentence that says a duty.
const (
	fewestWords = 3
	mostWords   = 90
)

// customs is how a language says what people do not do: a rule, if it is said of people.
var customs = map[text.Language]*regexp.Regexp{text.English: regexp.MustCompile(`^([^,;:]{2,60}?) (?:do|does) not [\pL]`)}

// custom returns of whom a line says that they do not do something; empty for others.
func custom(q *Quote) string {
	pattern := customs[q.language]
	if pattern == nil || !mayOblige(q) {
		return ""
	}
	_, sentence := itemMark(q)
	m := pattern.FindStringSubmatch(sentence)
	if m == nil || demonstratives[text.Fold(strings.Fields(m[1])[0])] {
		return ""
	}
	return m[1]
}

// mayOblige tells whether a line can say a duty at all.
func mayOblige(q *Quote) bool {
	n := len(strings.Fields(q.Text))
	if first, _ := utf8.DecodeRuneInString(q.Text); unicode.IsLower(first) {
		return false // the rest of a sentence
	}
	return n >= fewestWords && n <= mostWords && q.isProse() && !strings.HasSuffix(q.Text, "?")
}

// dutyIn reads a line as a duty; ok is false if it is none.
func dutyIn(q *Quote, isPerson func(name string) bool) (d Duty, ok bool) {
	if !mayOblige(q) {
		return d, false
	}
	mark, sentence := itemMark(q)
	for _, m := range duties[q.language] {
		at := m.words.FindStringSubmatchIndex(sentence)
		if at == nil {
			continue
		}
		if words := sentence[at[4]:at[5]]; strings.HasSuffix(words, " was") || strings.HasSuffix(words, " has") && !strings.Contains(words, " who ") {
			continue // "nobody was hurt"
		}
		d = Duty{Force: m.force, Who: m.subject(sentence, at), Number: number(q, mark), Quote: *q}
		if (m.force == May || m.force == Should) && aside.MatchString(sentence[:at[4]]) {
			return d, false // "the place which should be yours" tells which place
		}
		if m.force == May && !permits(sentence[at[5]:], d.Who, q.language) {
			return d, false
		}
		if d.Force != MustNot && denied(d.Who) {
			d.Force = MustNot
		}
		return d, true
	}
	if who := custom(q); who != "" && isPerson(who) {
		return Duty{Force: MustNot, Who: who, Number: number(q, mark), Quote: *q}, true
	}
	return d, false
}

// subject is who or what is meant by a sentence, in which the words were found. Nobody is named by
// "do not", nor by "and never".
func (m *modals) subject(sentence string, at []int) string {
	words := sentence[at[4]:at[5]]
	switch {
	case strings.HasPrefix(words, "No"):
		who, _, _ := strings.Cut(words[:strings.LastIndexByte(words, ' ')], ",")
		who, _, _ = strings.Cut(who, " who")
		return who
	case alone.MatchString(words):
		return ""
	}
	return subject(sentence[:at[4]])
}

// alone are words that forbid without a subject.
var alone = regexp.MustCompile(`(?i)^(?:do not|don['’]t|never|on no account|under no circumstances)$`)

// aside ends with the pronoun of a clause that tells which thing is meant.
var aside = regexp.MustCompile(`(?i)\s(?:which|that|who|where)(?: [\pL]+ly)?\s?(?:you |we |they |it |one )?$`)

// nobody are subjects that turn what is allowed or due into what is forbidden.
var nobody = regexp.MustCompile(`(?i)^(?:no|nobody|no one|none of|neither|kein|keine|niemand|nul|nulle|aucun|aucune|personne)(?:[^\pL]|$)`)

func denied(who string) bool { return nobody.MatchString(who) }

// chance is what follows a "may" that says what happens, not what is allowed.
var chance = regexp.MustCompile(`(?i)^\s*(?:also |well |still |sometimes |already |even |only )*(?:have|be (?:caused|due|that|a|an|the|more|less|so|too|very|necessary|possible|needed|different|damaged|lost|wrong|found|affected|useful|helpful|because)|seem|appear|occur|happen|fail|vary|differ|depend|cause|lead|result|contain|become|come|need|want|wish|help|look|mean|die|suffer|break|burst|leak|freeze|not)(?:[^\pL]|$)`)

// permits tells whether what follows a word such as "may" is allowed, and not just possible.
func permits(rest, who string, language text.Language) bool {
	if language != text.English {
		return true
	}
	low := strings.ToLower(who)
	return !chance.MatchString(rest) && low != "it" && low != "this" && low != "there" && low != "that"
}

// clauseEdge parts the clauses of a sentence.
var clauseEdge = regexp.MustCompile(`[;:—–]\s|,\s|\s(?:and|but|or|so|that|und|aber|oder|et|mais|ou)\s`)

// mostSubject is how many words the subject of a duty may have.
const mostSubject = 12

// subject is the last clause before a verb: who or what it is said of.
func subject(before string) string {
	s := strings.TrimSpace(before)
	for {
		edges := clauseEdge.FindAllStringIndex(s, -1)
		if len(edges) == 0 {
			break
		}
		last := edges[len(edges)-1]
		tail := strings.TrimSpace(s[last[1]:])
		if strings.HasSuffix(tail, ",") { // "the keeper, Dr Brandvold," is the keeper
			tail = ""
		}
		if tail == "" || relative.MatchString(tail) { // ", including members," belongs to what stands before it
			s = strings.TrimRight(s[:last[0]], " ,")
			continue
		}
		if edge := strings.TrimSpace(s[last[0]:last[1]]); edge == "and" || edge == "or" || edge == "und" || edge == "oder" || edge == "et" || edge == "ou" {
			if participle.MatchString(tail) && hasVerb(s[:last[0]]) { // "seed that has been dried and sealed"
				break
			}
			if head := subject(s[:last[0]]); head != "" && !hasVerb(head) && len(strings.Fields(head)) <= 4 {
				s = head + " " + edge + " " + tail // "the keeper and the deputy"
				break
			}
		}
		s = tail
		break
	}
	words := strings.Fields(joining.ReplaceAllString(s, ""))
	for len(words) > 0 && adverbs[strings.ToLower(words[len(words)-1])] {
		words = words[:len(words)-1]
	}
	if len(words) > mostSubject {
		return ""
	}
	s = strings.Trim(strings.Join(words, " "), " ,\"“”")
	if r, _ := utf8.DecodeRuneInString(s); !unicode.IsLetter(r) && !unicode.IsDigit(r) {
		return ""
	}
	return s
}

var (
	relative = regexp.MustCompile(`(?i)^(?:including|especially|if|when|unless|except|where|however|therefore|which|who|whose|like|such|as|with|without|in|on|for|at|by|y compris|sauf|si|wenn|falls|außer|sofern)(?:\s|$)`)
	joining  = regexp.MustCompile(`(?i)^(?:and|but|or|so|that|und|aber|oder|et|mais|ou)\s`)
	adverbs  = map[string]bool{"always": true, "also": true, "then": true, "therefore": true, "normally": true, "usually": true, "only": true, "first": true, "toujours": true, "immer": true}
	finite   = regexp.MustCompile(`(?i)(?:^|\s)(?:is|are|was|were|has|have|had|will|can|does|do|est|sont|ist|sind|wird|hat)(?:\s|$)`)
)

// participle is a single word that is no subject by itself.
var participle = regexp.MustCompile(`^[\pL]+(?:ed|en|t)$`)

func hasVerb(s string) bool { return finite.MatchString(s) }

// leadingMark is the number of an item.
var leadingMark = regexp.MustCompile(`^\(?((?:\d{1,3}|[A-Z])(?:\.\d{1,3}){0,4}|[a-z]|[ivx]{1,5})[.)]?\s`)

// sectionMark is the number of a section, perhaps behind a word such as "Rule".
var sectionMark = regexp.MustCompile(`^(?:[\pL§]+\s)?((?:\d{1,3}|[A-Z])(?:\.\d{1,3}){0,4})[.:)]?\s`)

// itemMark cuts the number off an item.
func itemMark(q *Quote) (mark, rest string) {
	if q.Kind == layout.ListItem && q.First {
		if m := leadingMark.FindString(q.Text); m != "" {
			return strings.TrimSpace(m), strings.TrimSpace(q.Text[len(m):])
		}
	}
	return "", strings.TrimLeft(q.Text, "•–—-*▪ ")
}

// number is how the text counts a requirement: by its section and its item.
func number(q *Quote, mark string) string {
	section := ""
	for i := len(q.Section) - 1; i >= 0 && section == ""; i-- {
		if m := sectionMark.FindStringSubmatch(q.Section[i]); m != nil {
			section = m[1]
		}
	}
	return strings.TrimSpace(section + " " + mark)
}
