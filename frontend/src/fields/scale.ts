/** 1:50, or 5:1 for drawings larger than what they show. */
export const scaleText = (scale: number) =>
  scale >= 1 ? `1:${scale}` : `${Number((1 / scale).toPrecision(4))}:1`;
