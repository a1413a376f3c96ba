import QRCode from 'qrcode';

/** A text as a QR code: rows of modules, the dark ones `1`. */
export function qrRows(text: string): string[] {
  const { size, data } = QRCode.create(text, { errorCorrectionLevel: 'M' }).modules;
  return Array.from({ length: size }, (_, row) =>
    Array.from({ length: size }, (_module, column) => (data[row * size + column] ? '1' : '0')).join('')
  );
}
