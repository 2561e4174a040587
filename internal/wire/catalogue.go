package wire

import (
	"cmp"
	"slices"
)

// Kind is a kind of problem: what is the same of all that have its code. The pages of the API list them.
type Kind struct {
	Code    string
	Status  int    // of HTTP
	Title   string // of a problem that says no other
	Says    string // what it means, and what to do, in a sentence or two
	Numbers []string
}

// With is a problem of the kind, with what is particular to it.
func (k *Kind) With(p Problem) *Problem {
	p.Code, p.Status, p.Title, p.Type = k.Code, cmp.Or(p.Status, k.Status), cmp.Or(p.Title, k.Title), typeOf(k.Code)
	return &p
}

// typeOf is where a kind of problem is described.
func typeOf(code string) string { return "/docs/problems.html#" + code }

// Kinds lists all kinds of problems, by code.
func Kinds() []*Kind { return slices.Clone(kinds) }

// KindWith is the kind with a code. That there is one for each of a refusal a test sees to.
func KindWith(code string) *Kind {
	for _, k := range kinds {
		if k.Code == code {
			return k
		}
	}
	return Internal
}

var kinds []*Kind

func declare(status int, code, title, says string, numbers ...string) *Kind {
	k := &Kind{code, status, title, says, numbers}
	kinds = append(kinds, k)
	return k
}

// The kinds of problems. Codes do not change.
var (
	ActionFailed         = declare(500, "action-failed", "The service failed on this action", "An action made the service fail. It was not done and will be refused; the table is as it was.")
	AllSeatsTaken        = declare(409, "all-seats-taken", "The room is full", "Every seat of the room is taken. Watch, or ask the host to free a seat.", "seats")
	BadId                = declare(422, "bad-id", "The id is too long", "The id of a request is longer than it may be.", "has", "most")
	BadMakerName         = declare(422, "bad-maker-name", "Choose another name", "A maker's name has letters, digits or signs, but no slash, and is not too long.", "most")
	BadName              = declare(422, "bad-name", "Choose another name", `A person's name has 1 to 24 letters, digits or signs, but no " and no #.`, "most")
	BadTitle             = declare(422, "bad-title", "Choose another name", "The name of a room or bookmark stands on one line, and is not too long.", "most")
	BeingLookedAt        = declare(409, "being-looked-at", "Not done", "Somebody looks at these cards. Wait until they close them.", "cards", "seat")
	BelongsToAnotherSeat = declare(403, "belongs-to-another-seat", "Not done", "What was asked for belongs to another seat, or only the host does it.", "cards", "seat")
	DatabaseGone         = declare(503, "database-gone", "The database does not answer", "The service cannot reach its records and keeps trying. Nothing was lost; try again in a moment.")
	EditionCameBetween   = declare(409, "edition-came-between", "Another edition came between", "An edition was kept since the one that this was made from. Compare them, and keep it again with the newest.", "after", "newest")
	FilesLacking         = declare(422, "files-lacking", "Files are lacking", "An edition names files that the service does not have yet. Send those first.")
	GameEnded            = declare(409, "game-ended", "The game has ended", "The game has ended; nothing is done at this table any more.")
	HasThisEdition       = declare(409, "has-this-edition", "The room has this edition", "The room was asked to take an edition in that it has.", "edition")
	HeldByAnother        = declare(409, "held-by-another", "Not done", "Somebody drags a card of these just now. Try again when they let go.", "seat")
	IdUsed               = declare(409, "id-used", "Not done", "Something else was done under this id. Give each request an id of its own.")
	Internal             = declare(500, "internal", "The service failed", "The service failed on the request. Nothing was changed; report it if it stays so.")
	IsLocked             = declare(409, "is-locked", "Not done", "What was to be moved or changed is locked. Unlock it first.")
	KitIsThere           = declare(409, "kit-is-there", "You have such a kit", "You have a kit of this name already. Choose another one.")
	KitLooksWrong        = declare(422, "kit-looks-wrong", "The kit looks wrong, so nothing was kept; mend it, or put it despite the warnings", "The kit can be kept, but something in it looks wrong; details has each. Mend it, or keep it despite the warnings.", "problems")
	KitHasMistakes       = declare(422, "kit-has-mistakes", "The kit has mistakes, so nothing was kept", "The kit has mistakes; details has each with its file and line.", "problems")
	MakerIsThere         = declare(409, "maker-is-there", "There is such a maker", "There is a maker of this name already. Renew their key, or choose another name.")
	MethodNotAllowed     = declare(405, "method-not-allowed", "Method not allowed", "The path does not take this method. The header Allow says which it takes.")
	NeedsASeat           = declare(403, "needs-a-seat", "Not done", "This is done by who has a seat. Join the room.")
	NeedsConfirming      = declare(409, "needs-confirming", "Needs confirming", `The steps would show, give or move cards that only you see. Send the request again with their text, which stands in details, in "confirm".`)
	NeedsKeeperKey       = declare(401, "needs-keeper-key", "For the keeper", "This is for who keeps the service. The key stands in the file keeper.key of the data folder.")
	NeedsMakerKey        = declare(401, "needs-maker-key", "For makers", "This is for makers. Send a maker's key in the header Authorization: Bearer KEY.")
	NeedsSeatKey         = declare(401, "needs-seat-key", "Needs a seat key", "This is for who sits in the room or watches it. Send the key that joining gave.")
	NoBookmark           = declare(422, "no-bookmark", "No bookmark", "What was sent is no bookmark, or it is damaged.")
	NoOrigin             = declare(422, "no-origin", "Not an address of pages", "The address of pages is such as https://game.example, without what comes after it, or * for all.")
	NoRules              = declare(404, "no-rules", "No rules", "The kit has no rules that are a PDF.")
	NoSpectators         = declare(403, "no-spectators", "No spectators", "The room takes no spectators. Choose a seat.")
	NoSuchAsk            = declare(409, "no-such-ask", "Not done", "There is no such ask any more: it was answered or withdrawn, or a card of it has gone.")
	NoSuchBookmark       = declare(404, "no-such-bookmark", "No such bookmark", "You have no bookmark of this id.")
	NoSuchCard           = declare(404, "no-such-card", "Not done", "A card that was named does not lie where it was asked for.")
	NoSuchCell           = declare(409, "no-such-cell", "Not done", "The grid has no such cell, or its cells cannot change while cards lie there.", "columns", "rows")
	NoSuchDeck           = declare(404, "no-such-deck", "No such deck", "There is no deck of this name on the table or in the kit.")
	NoSuchEdition        = declare(404, "no-such-edition", "No such edition", "The kit has no edition of this number.", "asked", "newest")
	NoSuchKey            = declare(404, "no-such-key", "No such key", "The maker has no such key that opens anything.")
	NoSuchKit            = declare(404, "no-such-kit", "No such kit", "There is no such kit, or it is not for you.")
	NoSuchMaker          = declare(404, "no-such-maker", "No such maker", "There is no maker of this name.")
	NoSuchPicture        = declare(404, "no-such-picture", "No such picture", "There is no picture at this address.")
	NoSuchPiece          = declare(409, "no-such-piece", "Not done", "There is no piece of this name on the table.")
	NoSuchPlace          = declare(404, "no-such-place", "Not done", "There is no place of this name on the table, or nothing lies there.")
	NoSuchRoom           = declare(404, "no-such-room", "No such room", "There is no such room, or it was removed.")
	NoSuchSeat           = declare(404, "no-such-seat", "Not done", "The table has no seat of this number.", "seats")
	NobodySits           = declare(409, "nobody-sits", "Not done", "Nobody sits at the seat that was named.", "seat")
	NotAcceptable        = declare(406, "not-acceptable", "Not acceptable", "The answer cannot be given in the form that was asked for.")
	NotFound             = declare(404, "not-found", "Not found", "There is nothing at this address.")
	NotKept              = declare(500, "not-kept", "Not done", "What this did cannot be kept, so it was not done. Do it in smaller parts.")
	NotPrinted           = declare(422, "not-printed", "Cannot be printed", "The cards cannot be printed so; the sentence says why.")
	NotRestored          = declare(422, "not-restored", "Nothing was restored", "What was sent is no backup that can be restored. Nothing was changed.")
	NotSaving            = declare(503, "not-saving", "Not saving", "The service cannot save right now and keeps trying. Nothing was lost; try again in a moment.")
	NotTheHost           = declare(403, "not-the-host", "Only the host arranges", "Only who may arrange the table brings pictures to it.")
	Unreadable           = declare(400, "not-understood", "Not understood", "What was sent cannot be read; line and column say where, of Steps.", "cards")
	NotValid             = declare(422, "not-valid", "Not valid", "What was sent does not fit the description; the sentence says where.")
	NothingToPrint       = declare(422, "nothing-to-print", "Nothing to print", "No card differs from the edition that was named.")
	NothingToUndo        = declare(409, "nothing-to-undo", "Not done", "There is nothing that you can undo now.", "seat")
	OtherOrigin          = declare(403, "other-origin", "A page of another address", "The page that asks is of an address that may not. The room's maker or the keeper allows it.")
	OutOfBounds          = declare(409, "out-of-bounds", "Not done", "A number or a text is smaller or larger than it may be.", "asked", "holds", "most", "value")
	PasscodeTooLong      = declare(422, "passcode-too-long", "The passcode is too long", "A passcode has at most so many bytes.", "has", "most")
	PictureNotTaken      = declare(422, "picture-not-taken", "The picture cannot be taken", "The picture cannot be read, or is too large; the sentence says why.")
	PlaceIsFull          = declare(409, "place-is-full", "Not done", "A place, a stack or the table holds no more.", "cards", "coming", "has", "holds")
	RoomIsBusy           = declare(503, "room-is-busy", "The room is busy", "The room has much to do, or goes from one service to another. Try again in a moment.")
	RoomIsFull           = declare(503, "room-is-full", "Many people watch", "As many people watch the room as it takes. Try again later, or take a seat.", "most")
	RoomLocked           = declare(403, "room-locked", "The room is locked", "The host has locked the room, so nobody new comes in.")
	RoomRests            = declare(503, "room-rests", "The room rests", "The room kept failing and rests for a minute. Nothing is lost.")
	SeatLeft             = declare(401, "seat-left", "The seat was left", "The key was for a seat that was left, freed or handed on since. Join the room again.")
	SeatTaken            = declare(409, "seat-taken", "Not done", "Somebody sits there. Choose a free seat.", "seat")
	SeatsOfTheBookmark   = declare(422, "seats-of-the-bookmark", "The bookmark has its seats", "A room from a bookmark has as many seats as its table had.", "seats")
	ServiceIsBusy        = declare(503, "service-is-busy", "The service is busy", "Many ask for the same at once. Try again in a moment.")
	SheetNotTaken        = declare(422, "sheet-not-taken", "The sheet cannot be taken", "The sheet cannot be read, or is too large; the sentence says why.")
	TooFast              = declare(429, "too-fast", "Too fast", "More was sent in a second than one person may. Wait a moment.", "actions-a-second")
	TooFewCards          = declare(409, "too-few-cards", "Not done", "Fewer cards lie there than were asked for.", "asked", "has")
	TooLarge             = declare(413, "too-large", "Too large", "What was sent is larger than is taken here.")
	TooManyBytes         = declare(409, "too-many-bytes", "Your files are too large together", "A maker's files have together at most so many MiB.", "has", "most")
	TooManyJoins         = declare(429, "too-many-joins", "Too many at once", "Too many people joined the room from one address. Wait a minute.", "at-once")
	TooManyKits          = declare(409, "too-many-kits", "Too many kits", "A maker has at most so many kits.", "has", "most")
	TooManyPasscodes     = declare(429, "too-many-passcodes", "Too many wrong passcodes", "Too many wrong passcodes came from one address. Wait half a minute.", "most")
	TooManyRooms         = declare(409, "too-many-rooms", "Too many rooms", "A maker has at most so many rooms.", "has", "most")
	TooManySeats         = declare(422, "too-many-seats", "Too many seats", "The kit is for fewer seats than were asked for.", "asked", "most")
	TooManyWindows       = declare(503, "too-many-windows", "Too many windows", "One key is connected as often as it may be. Close some windows of the room.", "most")
	TooMuchToPrint       = declare(422, "too-much-to-print", "Too much for one file", "One file has at most so many different pictures. Print deck by deck.", "most", "pictures")
	TooSlow              = declare(408, "too-slow", "Too slow", "What was sent did not come in time.")
	WrongPasscode        = declare(403, "wrong-passcode", "Wrong passcode", "The room asks for a passcode, and this is not it.")
	WrongPiece           = declare(409, "wrong-piece", "Not done", "This cannot be done with a piece of that kind.")
	WrongType            = declare(415, "wrong-type", "Wrong type", `This takes JSON. Say "Content-Type: application/json".`)
	TableNotKept         = declare(422, "table-not-kept", "The table cannot be kept in the kit", "The table as it is arranged cannot be written into the kit; the sentence says why.", "problems")
)
