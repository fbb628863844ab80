/**
 * Number of sparse parts the client will send for an image.
 *
 * @param imageBytes  expanded image size, bytes, > 0
 * @param maxDownload the device's `max-download-size`, bytes, > 0
 * @returns whole parts, at least 1
 * @throws RangeError when either is not a positive safe integer
 * @source AOSP fastboot client, sparse re-chunking (upper bound: headers ignored)
 * @example sparseParts(3_221_225_472, 268_435_456) // 12
 */
export function sparseParts(imageBytes: number, maxDownload: number): number {
  for (const bytes of [imageBytes, maxDownload])
    if (!Number.isSafeInteger(bytes) || bytes <= 0) throw new RangeError(`${bytes} is no number of bytes`);
  return Math.ceil(imageBytes / maxDownload);
}
