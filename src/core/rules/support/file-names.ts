/** What tells a name that a machine gave from one that a person gave. */

const EXTENSION = /\S\.(?:png|jpe?g|jpe|gif|webp|avif|svg|bmp|tiff?|hei[cf]|ico|psd)$/i;
/** What cameras, telephones and screenshot tools call their files (common practice). */
const DEVICE_NAME =
  /^(?:(?:img|dsc[nf]?|pict?|cimg|gopr|pxl|mvimg|sam|imag|image|photo|picture|scan|snap|vid|wp|p|_?mg)[-_ ]?\d{3,}\S*|(?:screen ?shot|screenshot|bildschirmfoto|capture d[’']écran|schermafbeelding|captura de (?:pantalla|tela)|schermata)[-_ ]\d.*|whatsapp image \d.*|\d{6,}(?:[-_ ]\d+)*)$/i;
const UUID = /^[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}$/i;

export const hasExtension = (text: string): boolean => EXTENSION.test(text);

export const isDeviceName = (text: string): boolean => DEVICE_NAME.test(text);

/** A UUID, a hash or a long run of letters and digits. */
export function isCode(text: string): boolean {
  return (
    UUID.test(text) ||
    (/^[0-9a-f]{16,}$/i.test(text) && /\d/.test(text)) ||
    /^(?=(?:.*\d){4})(?=.*[a-z])[a-z0-9]{24,}$/i.test(text)
  );
}
