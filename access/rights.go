package access

// asking are the operations of callers that may only ask.
var asking = map[string]bool{"ask": true, "getPicture": true, "getDescription": true}

// Lets tells whether a caller who may only ask may do an operation; others may by their rights.
func (c *Caller) Lets(operation string) bool { return c == nil || !c.Asks || asking[operation] }

// Needs says which right each operation of the API needs, by the name that the API's
// description gives it: a right in the collection that its address names, or else in the service.
var Needs = map[string]Right{
	"getDescription":  Anyone,
	"getSession":      Anyone,
	"signIn":          Anyone,
	"signOut":         Anyone,
	"signInElsewhere": Anyone,
	"comeBack":        Anyone,

	"askAcross":           Known, // those that the caller may read
	"listCollections":     Known, // shows those that the caller may read
	"listMeasurements":    Known, // the same
	"getMeasurement":      Known, // the same
	"removeMeasurement":   Known, // one of a collection that the caller owns, as all of these
	"reportMeasurement":   Known,
	"compareMeasurements": Known,
	"listVerdicts":        Known,
	"nextToJudge":         Known,
	"judgeAnswer":         Known,
	"setPassphrase":       Known, // one's own

	"getCollection":      Reader,
	"listDocuments":      Reader,
	"getDocument":        Reader,
	"listVersions":       Reader,
	"getFile":            Reader,
	"getPage":            Reader,
	"getPicture":         Reader,
	"getCorrections":     Reader,
	"exportPassages":     Reader,
	"exportDocument":     Reader,
	"findWorstPages":     Reader,
	"followIntake":       Reader,
	"getIntake":          Reader,
	"getOutline":         Reader,
	"searchDocument":     Reader,
	"getGlossary":        Reader,
	"getLessons":         Reader,
	"getStyle":           Reader,
	"find":               Reader,
	"ask":                Reader,
	"reportAnswer":       Reader,
	"listConversations":  Reader, // one's own
	"getConversation":    Reader,
	"removeConversation": Reader,

	"addDocuments":    Editor,
	"removeDocument":  Editor,
	"listBin":         Editor,
	"restoreDocument": Editor,
	"correctPage":     Editor,
	"readAgain":       Editor,
	"setTags":         Editor,
	"unlockDocument":  Editor,
	"setFields":       Editor,
	"importFields":    Editor,
	"listSources":     Editor,
	"addSource":       Editor,
	"removeSource":    Editor,
	"lookAtSource":    Editor,
	"pauseIntake":     Editor,
	"setGlossary":     Editor,
	"teach":           Editor,
	"forget":          Editor,

	"removeCollection":           Owner,
	"purgeDocument":              Owner,
	"changeCollection":           Owner,
	"checkIndex":                 Owner,
	"rebuildIndex":               Owner,
	"setStyle":                   Owner,
	"measure":                    Owner,
	"listCollectionMeasurements": Owner,
	"listJobs":                   Owner,
	"getJob":                     Owner,
	"cancelJob":                  Owner,
	"listSets":                   Owner,
	"importSet":                  Owner,
	"getSet":                     Owner,
	"removeSet":                  Owner,
	"putQuestion":                Owner,
	"removeQuestion":             Owner,
	"reviewSet":                  Owner,
	"draftQuestions":             Owner,
	"gatherQuestions":            Owner,
	"listReports":                Owner,
	"settleReport":               Owner,
	"listTrials":                 Owner,
	"makeTrial":                  Owner,
	"dropTrial":                  Owner,
	"promoteTrial":               Owner,
	"askTrial":                   Owner,
	"putBackSetup":               Owner,
	"listSweeps":                 Owner,
	"sweep":                      Owner,
	"listHooks":                  Owner,
	"setHook":                    Owner,
	"removeHook":                 Owner,
	"getWatch":                   Owner,
	"setWatch":                   Owner,
	"listRights":                 Owner,
	"setRight":                   Owner,
	"setSharing":                 Owner,

	"createCollection": Administrator,
	"addDemo":          Administrator,
	"listPeople":       Administrator,
	"addPerson":        Administrator,
	"changePerson":     Administrator,
	"removePerson":     Administrator,
	"listKeys":         Administrator,
	"createKey":        Administrator,
	"revokeKey":        Administrator,
	"checkService":     Administrator,
	"backup":           Administrator,
	"listAudit":        Administrator,
	"verifyAudit":      Administrator,
	"readMetrics":      Administrator, // outside of the API's description
}
