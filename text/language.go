package text

import (
	"maps"
	"slices"
	"strings"
)

// A Language is an ISO 639-1 code, such as "en".
type Language string

// English is what a text is taken for when nothing tells.
const English Language = "en"

// functionWords are the commonest words of each language, folded. They carry
// grammar and no subject, so they tell the language of a text, and they are
// what a question can lose without losing what it is about.
var functionWords = map[Language]map[string]bool{
	"en": set(`a about above after again all also although am an and any are as at be because been before being below
		between both but by can could did do does doing done down during each either else etc ever every few for from
		further get gets give go goes got had has have having he hence her here hers him his how however i if in into is it its
		itself just let like made make many may me might mine more most much must my neither no nor not now of off often on once one
		only onto or other our ours out over own per please rather really s same shall she should since so some such t take tell than
		that the their theirs them then there therefore these they this those though through thus to too under until
		up upon us use used very via was we were what when where whether which while who whom whose why will with
		within without would yet you your yours don doesn isn aren wasn won can't ll re ve d m`),
	"fr": set(`a ai alors ainsi apres au aucun aussi autre aux avant avec avoir ayant car ce cela celle celui ces cet cette
		chaque chez ci comme comment dans de depuis des donc dont du elle elles en encore entre es est et etaient etait
		etant etc ete etre eu faire fait faut fois font hors il ils je jusqu l la le les leur leurs lors lorsque lui ma
		mais meme mes moi moins mon ne ni nos notre nous on ont ou par parce pas pendant peu peut peuvent plus pour
		pourquoi qu quand que quel quelle quelles quels qui quoi sa sans sauf se sera ses si sien soit son sont sous
		sur ta te tes toi ton tous tout toute toutes tres trop tu un une vers voici voila vos votre vous y d c j m n s t`),
	"de": set(`aber alle allem allen aller alles als also am an ander andere anderen auch auf aus bei bin bis bist da damit
		dann das dass dein dem den denn der des dessen die dies diese diesem diesen dieser dieses doch dort du durch ein
		eine einem einen einer eines er es etwas euch fur gegen gewesen hab habe haben hat hatte hier hin hinter ich ihm
		ihn ihnen ihr ihre im in indem ins ist ja jede jedem jeden jeder jedes jetzt kann kein keine konnen konnte machen
		man mehr mein mit muss mussen nach nicht nichts noch nun nur ob oder ohne sehr sein seine sich sie sind so soll
		sollen sollte sondern sonst uber um und uns unser unter viel vom von vor wahrend war waren warum was weil welche
		welchem welchen welcher welches wenn wer werde werden wie wieder will wir wird wo wurde wurden zu zum zur zwischen`),
	"es": set(`al algo alguna algunas alguno ante antes aquel aqui asi aun aunque cada como con contra cual cuales cuando
		de del desde donde dos el ella ellas ellos en entre era eran es esa esas ese eso esos esta estaba estado estan
		estar estas este esto estos fue fueron ha haber habia hacia han hasta hay la las le les lo los mas me mi mientras
		muy nada ni no nos nosotros o os otra otro para pero poco por porque pues que quien se sea segun ser si sido sin
		sobre son su sus tambien tan tanto te tiene tienen toda todas todo todos tu un una unas uno unos y ya yo`),
	"it": set(`a ad agli ai al alla alle allo anche che chi ci come con contro cui da dagli dai dal dalla dalle degli dei
		del della delle dello di dove e ed era erano essere fra gli ha hanno ho i il in io la le lei li lo loro lui ma
		mi mia mio ne negli nei nel nella nelle no noi non nostro o ogni per perche piu quale quali quando quanto quella
		quelle quelli quello questa queste questi questo se senza si sia siamo sono sta stato su sua sue sugli sui sul
		sulla suo tra tu tutti tutto un una uno vi voi`),
	"pt": set(`a ao aos as ate com como da das de dela dele do dos e ela elas ele eles em entre era essa esse esta estao
		estas este estes eu foi for foram ha isso isto ja la lhe mais mas me mesmo meu minha muito na nao nas nem no nos
		nossa o os ou para pela pelas pelo pelos por qual quando que quem sao se seja sem ser seu seus so sua suas tambem
		te tem tendo ter teu tinha um uma voce`),
	"nl": set(`aan al alles als altijd andere ben bij daar dan dat de der deze die dit doch doen door dus een en er ge geen
		geweest haar had heb hebben heeft hem het hier hij hoe hun iemand iets ik in is ja je kan kon kunnen maar me
		meer men met mij mijn moet na naar niet niets nog nu of om omdat onder ons ook op over reeds te tegen toch toen
		tot u uit uw van veel voor want waren was wat werd wezen wie wil worden wordt zal ze zelf zich zij zijn zo
		zonder zou`),
}

func set(words string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(words) {
		m[w] = true
	}
	return m
}

// IsFunctionWord tells whether a folded word only carries grammar in language.
func IsFunctionWord(word string, language Language) bool {
	return functionWords[language][word]
}

// languages and memberships serve Detect: for each function word, a bit for
// each language that has it.
var (
	languages   = slices.Sorted(maps.Keys(functionWords))
	memberships = func() map[string]uint16 {
		out := map[string]uint16{}
		for i, language := range languages {
			for word := range functionWords[language] {
				out[word] |= 1 << i
			}
		}
		return out
	}()
)

// Detect guesses the language of a text from its function words. Too little to
// go by gives fallback.
func Detect(s string, fallback Language) Language {
	tokens := Tokens(s)
	best, most := commonest(tokens, fallback)
	// Two words in five are function words in running text of any of these
	// languages; lists, tables and code hold far fewer.
	if most < 2 || most*8 < len(tokens) {
		return fallback
	}
	return best
}

// Guess is Detect for a question, which may have one function word only: whichever
// language has the most is taken, the fallback where none has any.
func Guess(s string, fallback Language) Language {
	best, _ := commonest(Tokens(s), fallback)
	return best
}

// commonest returns the language that most words are function words of, and how many are.
func commonest(tokens []Token, fallback Language) (best Language, most int) {
	counts := make([]int, len(languages))
	for _, t := range tokens {
		for i, bits := 0, memberships[t.Word]; bits != 0; i, bits = i+1, bits>>1 {
			counts[i] += int(bits & 1)
		}
	}
	best = fallback
	for i, n := range counts {
		if n > most || n == most && languages[i] == fallback {
			best, most = languages[i], n
		}
	}
	return best, most
}
