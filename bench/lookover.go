package main

import (
	"context"
	"fmt"
	"time"

	"github.com/chromedp/chromedp"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/demo"
)

// decodePictures decodes the pictures of a kit one after the other, as the bench's worker has them decoded.
const decodePictures = `(async () => {
	const zip = await (await fetch('/api/kits/%s/zip', { headers: { Authorization: 'Bearer %s' } })).arrayBuffer();
	const bytes = new Uint8Array(zip), view = new DataView(zip), pictures = [];
	let end = bytes.length - 22;
	while (view.getUint32(end, true) !== 0x06054b50) end--;
	let at = view.getUint32(end + 16, true);
	for (let n = view.getUint16(end + 10, true); n > 0; n--) {
		const name = new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + view.getUint16(at + 28, true)));
		const local = view.getUint32(at + 42, true), size = view.getUint32(at + 20, true), method = view.getUint16(at + 10, true);
		const from = local + 30 + view.getUint16(local + 26, true) + view.getUint16(local + 28, true);
		if (/\.(png|jpe?g)$/i.test(name)) {
			const packed = bytes.slice(from, from + size);
			pictures.push(method === 0 ? new Blob([packed]) : await new Response(new Blob([packed]).stream().pipeThrough(new DecompressionStream('deflate-raw'))).blob());
		}
		at += 46 + view.getUint16(at + 28, true) + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
	}
	const began = performance.now();
	for (const picture of pictures) {
		const bitmap = await createImageBitmap(picture, { premultiplyAlpha: 'none', colorSpaceConversion: 'none' });
		const canvas = new OffscreenCanvas(bitmap.width, bitmap.height), context = canvas.getContext('2d', { willReadFrequently: true });
		context.drawImage(bitmap, 0, 0);
		context.getImageData(0, 0, bitmap.width, bitmap.height);
	}
	return (performance.now() - began) / 1000;
})()`

// lookedOver is the time from asking for Marsh Post on the bench until it is looked over, against a browser
// decoding its pictures and nothing else.
func lookedOver(b *bench) (ours, reference float64, unit string, err error) {
	maker, err := b.maker()
	if err != nil {
		return 0, 0, "", err
	}
	put, err := kits.PutFolder(b.ctx, maker, demo.Kit(), kits.Options{})
	if err != nil {
		return 0, 0, "", err
	}
	page, cancel, err := b.browser()
	if err != nil {
		return 0, 0, "", err
	}
	defer cancel()
	var times [2][]float64
	for range 3 {
		took, err := b.openBench(page, maker, put.ID)
		if err != nil {
			return 0, 0, "", err
		}
		decoded, err := chromedp.Run(page, chromedp.Evaluate[float64](fmt.Sprintf(decodePictures, put.ID, maker.Key()), chromedp.EvalAwaitPromise))
		if err != nil {
			return 0, 0, "", err
		}
		times[0], times[1] = append(times[0], took), append(times[1], decoded)
	}
	return middle(times[0]), middle(times[1]), "s", nil
}

// openBench opens a kit on the bench and says how long it took until it was looked over.
func (b *bench) openBench(page context.Context, maker *client.Client, kit string) (float64, error) {
	err := chromedp.Do(page, chromedp.Navigate("http://"+b.address+"/"))
	if err == nil {
		_, err = chromedp.Run(page, chromedp.Evaluate[string](fmt.Sprintf("(localStorage.setItem('damselfly maker key', %q), '')", maker.Key())))
	}
	if err == nil {
		err = chromedp.Do(page, chromedp.Navigate("about:blank"))
	}
	began := time.Now()
	if err == nil {
		err = chromedp.Do(page, chromedp.Navigate("http://"+b.address+"/bench/"+kit))
	}
	if err != nil {
		return 0, err
	}
	const looked = `/nothing looks wrong|to look at/.test(document.querySelector('header [role=status]')?.textContent ?? '')`
	for deadline := time.Now().Add(time.Minute); time.Now().Before(deadline); time.Sleep(5 * time.Millisecond) {
		if is, err := chromedp.Run(page, chromedp.Evaluate[bool](looked)); err != nil || is {
			return time.Since(began).Seconds(), err
		}
	}
	return 0, fmt.Errorf("the bench never looked Marsh Post over")
}
