package access

// Needs says which right each operation of the API needs, by the name that the API's
// description gives it: a right in the collection that its address names, or else in the service.
var Needs = map[string]Right{
	"getDescription":  Anyone,
	"getSession":      Anyone,
	"signIn":          Anyone,
	"signOut":         Anyone,
	"signInElsewhere": Anyone,
	"comeBack":        Anyone,

	"listCollections":  Known, // shows those that the caller may read
	"listMeasurements": Known, // the same
	"getMeasurement":   Known, // the same
	"setPassphrase":    Known, // one's own

	"getCollection":      Reader,
	"listDocuments":      Reader,
	"getDocument":        Reader,
	"listVersions":       Reader,
	"getFile":            Reader,
	"getPage":            Reader,
	"getPicture":         Reader,
	"getCorrections":     Reader,
	"exportDocument":     Reader,
	"findWorstPages":     Reader,
	"followIntake":       Reader,
	"getGlossary":        Reader,
	"getLessons":         Reader,
	"getStyle":           Reader,
	"find":               Reader,
	"ask":                Reader,
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
	"setGlossary":     Editor,
	"teach":           Editor,
	"forget":          Editor,

	"removeCollection":           Owner,
	"purgeDocument":              Owner,
	"reindexCollection":          Owner,
	"checkIndex":                 Owner,
	"rebuildIndex":               Owner,
	"setStyle":                   Owner,
	"measure":                    Owner,
	"listCollectionMeasurements": Owner,
	"listRights":                 Owner,
	"setRight":                   Owner,
	"setSharing":                 Owner,

	"createCollection": Administrator,
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
