import sharp from 'sharp';
const [src, x, y, w, h, k, out] = process.argv.slice(2);
await sharp(src).extract({ left: +x, top: +y, width: +w, height: +h }).resize(w * k, h * k, { kernel: 'nearest' }).png().toFile(out);
