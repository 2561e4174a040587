package demo

import (
	"bytes"
	"io/fs"
)

// SecondNote is what is new in the second edition of Marsh Post.
const SecondNote = "Two words is sharper, the lamp oil is paid, and two letters came with the spring tide"

// Second is the second edition of Marsh Post: the files that are others than in the first. One
// letter is redrawn, two are new, and one is gone.
func Second() map[string][]byte {
	text, err := fs.ReadFile(Kit(), "letters.csv")
	if err != nil {
		panic(err) // it is part of the program
	}
	lines := bytes.Split(bytes.TrimRight(text, "\n"), []byte("\n"))
	kept := lines[:0:0]
	for _, line := range lines {
		if !bytes.HasPrefix(line, []byte("Bill for lamp oil,")) {
			kept = append(kept, bytes.Replace(line, []byte("Come home."), []byte("Come home and bring nothing."), 1))
		}
	}
	kept = append(kept,
		[]byte(`"A warning, unsigned",Tern Bank,1,lantern,"Do not trust the **new channel** after dark. :tide:",,#2e628a`),
		[]byte(`Recipe for reed bread,Sedge Landing,2,reeds,"Flour of the root, water of the spring, and *patience*.",2,#5f7a3e`))
	return map[string][]byte{"letters.csv": append(bytes.Join(kept, []byte("\n")), '\n')}
}
