/** What a service is paid per million tokens. */
export interface Prices {
  priceIn: number;
  priceOut: number;
}

/** Pixels that count as one token, as hosted models commonly count them (common practice; services differ by a factor of three). */
const PIXELS_PER_TOKEN = 750;

/** Tokens that a picture takes. */
export const pictureTokens = (width: number, height: number): number => Math.ceil((width * height) / PIXELS_PER_TOKEN);

/** In the currency of the service. */
export const costOf = ({ priceIn, priceOut }: Prices, tokensIn: number, tokensOut: number): number =>
  (tokensIn * priceIn + tokensOut * priceOut) / 1_000_000;
