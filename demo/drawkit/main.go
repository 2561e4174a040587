// Command drawkit draws the pictures of Marsh Post into its folder.
//
//	go run ./demo/drawkit demo/marshpost
package main

import (
	"fmt"
	"os"
	"path/filepath"

	"damselfly/demo"
)

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: drawkit FOLDER")
		os.Exit(2)
	}
	file := filepath.Join(os.Args[1], "weather.png")
	if err := os.WriteFile(file, demo.PNG(demo.DrawWeather()), 0o644); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	fmt.Println("drew", file)
}
