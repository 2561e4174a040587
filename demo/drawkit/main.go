// Command drawkit draws the pictures of Marsh Post into the folders of its kits.
//
//	go run ./demo/drawkit demo
package main

import (
	"fmt"
	"image"
	"os"
	"path/filepath"

	"damselfly.example/damselfly/demo"
)

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: drawkit FOLDER")
		os.Exit(2)
	}
	pictures := map[string]image.Image{"weather/weather.png": demo.DrawWeather()}
	for name, picture := range demo.Pictures() {
		pictures["marshpost/"+name] = picture
	}
	for name, picture := range pictures {
		file := filepath.Join(os.Args[1], name)
		err := os.MkdirAll(filepath.Dir(file), 0o755)
		if err == nil {
			err = os.WriteFile(file, demo.PNG(picture), 0o644)
		}
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		fmt.Println("drew", file)
	}
}
