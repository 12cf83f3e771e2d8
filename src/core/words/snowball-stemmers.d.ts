declare module 'snowball-stemmers' {
  const snowball: { newStemmer(algorithm: string): { stem(word: string): string } };
  export default snowball;
}
