package wire

import (
	"errors"
	"strings"
	"unicode"
	"unicode/utf8"

	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// Refused is a refusal of the core as an answer. Most are conflicts with the
// state of the table; the sentence says with what.
func Refused(r *table.Refusal, origins []steps.Origin, log []LogLine) *Problem {
	p := KindWith(r.Code).With(Problem{Title: "Not done", Detail: r.Text, Numbers: r.Numbers, Step: r.Step, Log: log})
	if r.Step > 0 && r.Step <= len(origins) {
		p.Line, p.Cue = origins[r.Step-1].Line, origins[r.Step-1].Cue
	}
	if r.Stands {
		p.Status, p.Stands, p.Title = 409, true, "Not done to the end"
	}
	return p
}

// ProblemOf is an error of a game as an answer.
func ProblemOf(err error) *Problem {
	var confirm play.NeedsConfirming
	switch {
	case errors.Is(err, play.ErrSeatLeft):
		return SeatLeft.With(Problem{Detail: "This key was for a seat that was left, freed or handed on since. Join the room again."})
	case errors.Is(err, play.ErrNoSpectators):
		return NoSpectators.With(Problem{Detail: "This room takes no spectators. Choose a seat."})
	case errors.Is(err, play.ErrWatching):
		return Refused(&table.Refusal{Code: table.NeedsSeat, Text: "You are watching. Take a seat to act."}, nil, nil)
	case errors.As(err, &confirm):
		return NeedsConfirming.With(Problem{Details: []string{confirm.Text},
			Detail: "These steps would show, give or move cards that only you see. Send the request again with their very text, which stands in details, in \"confirm\"."})
	}
	return NotUnderstood(err)
}

// NotUnderstood answers an action or Steps that cannot be read.
func NotUnderstood(err error) *Problem {
	p := Unreadable.With(Problem{Detail: err.Error()})
	var mistake *steps.Error
	if errors.As(err, &mistake) {
		p.Line, p.Column = mistake.Line, mistake.Column
	}
	return p
}

// NotNamed is the problem for a name that names nothing, with what was meant by it.
func NotNamed(err error, code, title string) *Problem {
	text := err.Error()
	var mistake *steps.Error
	if errors.As(err, &mistake) {
		text = mistake.Text
	}
	return KindWith(code).With(Problem{Title: title, Detail: Sentence(text)})
}

// Sentence is what begins with a capital and ends with a stop, or asks.
func Sentence(text string) string {
	first, size := utf8.DecodeRuneInString(text)
	text = string(unicode.ToUpper(first)) + strings.TrimSuffix(text[size:], ".")
	if !strings.HasSuffix(text, "?") {
		text += "."
	}
	return text
}
