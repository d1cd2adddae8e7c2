package service

import "jardinet/api"

// What the service takes and gives is what programs see of it.
type (
	Added          = api.Added
	Refused        = api.Refused
	Ask            = api.Ask
	Collection     = api.Collection
	Conversation   = api.Conversation
	Document       = api.Document
	Embedding      = api.Embedding
	Explained      = api.Explained
	Finding        = api.Finding
	Found          = api.Found
	Glossary       = api.Glossary
	Heading        = api.Heading
	Hit            = api.Hit
	Intake         = api.Intake
	JudgedPage     = api.JudgedPage
	Lesson         = api.Lesson
	Page           = api.Page
	PageBlock      = api.PageBlock
	PageLine       = api.PageLine
	PageLink       = api.PageLink
	PagePart       = api.PagePart
	Recipe         = api.Recipe
	Scope          = api.Scope
	Source         = api.Source
	Turn           = api.Turn
	Understood     = api.Understood
	UnderstoodTerm = api.UnderstoodTerm
)
