package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/validation"
)

// What the HTTP library finds wrong with a request is told in the service's words.

// SpeakPlainly gives the library our words for what it checks. Each follows the name of a field.
var SpeakPlainly = sync.OnceFunc(func() {
	huma.NewError, huma.DefaultArrayNullable = newProblem, false // the library's own way to shape errors and lists
	validation.MsgUnexpectedProperty = "is not known here"
	validation.MsgExpectedBoolean = "is to be true or false"
	validation.MsgExpectedNumber = "is to be a number"
	validation.MsgExpectedInteger = "is to be a whole number"
	validation.MsgExpectedString = "is to be text"
	validation.MsgExpectedBase64String = "is to be written in base64"
	validation.MsgExpectedArray = "is to be a list"
	validation.MsgExpectedObject = "is to be an object"
	validation.MsgExpectedArrayItemsUnique = "has an entry twice"
	validation.MsgExpectedOneOf = "is to be one of %s"
	validation.MsgExpectedMinimumNumber = "is to be at least %v"
	validation.MsgExpectedMaximumNumber = "is to be at most %v"
	validation.MsgExpectedExclusiveMinimumNumber = "is to be more than %v"
	validation.MsgExpectedExclusiveMaximumNumber = "is to be less than %v"
	validation.MsgExpectedMinLength = "is to have at least %d letters"
	validation.MsgExpectedMaxLength = "is to have at most %d letters"
	validation.MsgExpectedBePattern = "is to be %s"
	validation.MsgExpectedMatchPattern = "is to be written as %s"
	validation.MsgExpectedMinItems = "is to have at least %d entries"
	validation.MsgExpectedMaxItems = "is to have at most %d entries"
	validation.MsgExpectedMinProperties = "is to have at least %d fields"
	validation.MsgExpectedMaxProperties = "is to have at most %d fields"
	validation.MsgExpectedMatchAtLeastOneSchema = "is not as it is to be; see /api/docs"
	validation.MsgExpectedMatchExactlyOneSchema = "is not as it is to be; see /api/docs"
	validation.MsgExpectedRequiredProperty = "%s is missing"
})

// ofParameters are the library's words for parameters that it cannot read, and ours.
var ofParameters = map[string]string{
	"invalid integer": "is to be a whole number", "invalid float": "is to be a number", "invalid floating value": "is to be a number",
	"invalid boolean": "is to be true or false", "unknown query parameter": "is not known here",
	"expected at most one value, but received multiple values": "is given more than once",
}

// What is said of fields that nothing reads, and before the beginning of what is no JSON.
const (
	NotKnown = " is not known here"
	noJSON   = "what was sent cannot be read as a JSON object; it begins "
)

// plainly says what is wrong with a part of a request.
func plainly(err error) string {
	var d *huma.ErrorDetail
	if !errors.As(err, &d) {
		return err.Error() // of checks of our own
	}
	where := d.Location
	for _, part := range []string{"body", "query", "path", "header"} {
		where = strings.TrimPrefix(strings.TrimPrefix(where, part+"."), part)
	}
	text := d.Message
	if ours, is := ofParameters[text]; is {
		text = ours
	}
	missing, isMissing := strings.CutSuffix(text, " is missing")
	switch {
	case strings.HasPrefix(text, "required ") && isMissing:
		return fmt.Sprintf("%q is missing", where)
	case isMissing:
		return fmt.Sprintf("%q is missing", strings.TrimPrefix(where+"."+missing, "."))
	case where == "":
		return ofWhole(d)
	case strings.HasSuffix(text, NotKnown):
		return fmt.Sprintf("%q %s", where, text)
	}
	return fmt.Sprintf("%q %s%s", where, text, instead(d.Value))
}

// instead is what stands there, where that is short.
func instead(value any) string {
	switch value.(type) {
	case map[string]any, []any:
		return ""
	}
	text, err := json.Marshal(value)
	if err != nil || len(text) > 60 {
		return ""
	}
	return ", not " + string(text)
}

// ofWhole says what is wrong with all that was sent.
func ofWhole(d *huma.ErrorDetail) string {
	sent, isText := d.Value.(string)
	switch {
	case strings.HasSuffix(d.Message, NotKnown):
		return d.Message
	case strings.HasPrefix(d.Message, huma.ErrUnknownContentType.Error()):
		return "this takes JSON, and something else was sent: say \"Content-Type: application/json\""
	case !isText:
		return "what was sent " + d.Message // by the words above
	}
	if begins := []rune(sent); len(begins) > 30 {
		sent = string(begins[:30]) + "…"
	}
	return noJSON + strconv.Quote(sent)
}

// bytesIn finds the limit in the library's words for what is too large.
var bytesIn = regexp.MustCompile(`limit=(\d+)`)

// ofRequest says what is wrong with a request where that is not a part of it.
func ofRequest(message string) string {
	if limit := bytesIn.FindStringSubmatch(message); limit != nil {
		n, _ := strconv.Atoi(limit[1])
		return fmt.Sprintf("What was sent is too large: %d KiB are taken here.", n>>10)
	}
	switch message {
	case "request body is required":
		return "Something has to be sent here; see /api/docs."
	case "request body read timeout":
		return "What was sent did not come in time. Try again."
	}
	return message
}
