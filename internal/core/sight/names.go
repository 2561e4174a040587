package sight

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"

	"damselfly.example/damselfly/internal/core/table"
)

// PictureName names a picture outside of the service, in 22 letters. It is made of the picture's
// address with a secret, so that who has a picture, or guesses one, cannot tell its name, nor whether
// it is here; and nobody has a name but who was shown what the picture shows.
type PictureName string

// Names makes names of addresses and finds them again. The zero value hides nothing: it is for a table in
// one's own browser.
type Names struct{ secret cipher.Block }

// SecretBytes is how long the secret of names is.
const SecretBytes = 16

// NewNames makes names under a secret of 16 random bytes (AES-128 of half an address, which has as many).
func NewNames(secret []byte) (Names, error) {
	block, err := aes.NewCipher(secret)
	return Names{block}, err
}

// Of is the name of a picture.
func (n Names) Of(p table.Picture) PictureName {
	if p.Full == "" {
		return ""
	}
	half, err := hex.DecodeString(p.Full)
	if err != nil || len(half) < aes.BlockSize { // no address, as in tests
		whole := sha256.Sum256([]byte(p.Full))
		half = whole[:]
	}
	half = half[:aes.BlockSize]
	if n.secret != nil {
		n.secret.Encrypt(half, half)
	}
	return PictureName(base64.RawURLEncoding.EncodeToString(half))
}

// Begins is how the address of a named picture begins, in hexadecimal digits; empty for what is no name.
func (n Names) Begins(name PictureName) string {
	half, err := base64.RawURLEncoding.Strict().DecodeString(string(name))
	if err != nil || len(half) != aes.BlockSize {
		return ""
	}
	if n.secret != nil {
		n.secret.Decrypt(half, half)
	}
	return hex.EncodeToString(half)
}

// Outside is a picture as it is told of outside: both sizes by its name.
func (n Names) Outside(p table.Picture) table.Picture {
	if n.secret == nil || p == (table.Picture{}) {
		return p
	}
	name := string(n.Of(p))
	return table.Picture{Small: name, Full: name}
}

// piece is a piece as it is told of outside.
func (n Names) piece(p table.Piece) table.Piece {
	if n.secret == nil || len(p.Faces) == 0 {
		return p
	}
	faces := make([]table.Picture, len(p.Faces))
	for i, face := range p.Faces {
		faces[i] = n.Outside(face)
	}
	p.Faces = faces
	return p
}

// settings are the settings as they are told of outside.
func (n Names) settings(s table.Settings) table.Settings {
	s.Mat = n.Outside(s.Mat)
	return s
}
