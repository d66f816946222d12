/** What is taken from outside, and why not more. */
export const LIMITS = {
  /** A bill with photographs stays below 20 MB; larger files are usually sent by mistake. */
  fileBytes: 25_000_000,
  /** The longest statements known have about 120 pages; words are kept in memory while reading. */
  pages: 200,
  /** A dense page has about 1,500 words. */
  wordsPerPage: 20_000,
  /** One page takes about 15 ms; a file that needs longer is built to be slow. */
  textDeadlineMs: 30_000,
  textBytes: 60_000_000,
  /** A dense page takes about 3 s on one core; a picture of grass can take a minute. */
  recogniseDeadlineMs: 90_000,
  /** A3 at 600 dpi has 70 million dots. */
  picturePixels: 120_000_000,
  /** A typed text or mail longer than this is a log file. */
  typedBytes: 2_000_000,
  imageDeadlineMs: 20_000,
  imageBytes: 30_000_000,
  /** Points. PDF allows 14,400; A0 is 3,370. */
  pageSide: 5_000,
} as const;
