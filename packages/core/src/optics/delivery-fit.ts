import * as z from 'zod';
import type { FilmBack } from './film-back';
import { unsqueezedWidthMm } from './film-back';

/** The frame that leaves the building: pixels, and the width of a pixel over its height. */
export const deliverySchema = z.object({
  widthPx: z.number().int().min(16).max(16_384),
  heightPx: z.number().int().min(16).max(16_384),
  pixelAspect: z.number().min(0.25).max(4).default(1),
});

export type Delivery = z.infer<typeof deliverySchema>;

/** How the film back meets a delivery frame of another shape. */
export const FITS = ['match-width', 'match-height', 'show-all', 'fill'] as const;

export const fitSchema = z.enum(FITS);

export type Fit = z.infer<typeof fitSchema>;

/** The delivered area on the film back, and what is cut off or added at each side. */
export interface DeliveryFit {
  /** Delivered area in mm with the squeeze undone. */
  readonly widthMm: number;
  readonly heightMm: number;
  /** What the frame leaves of the film back (crop, positive) or asks beyond it (padding, negative), each side. */
  readonly cropXMm: number;
  readonly cropYMm: number;
  /** The same in delivery pixels. */
  readonly cropXPx: number;
  readonly cropYPx: number;
}

/** Aspect of the delivered picture as it is seen: 1920 × 1080 with square pixels is 1.7778. */
export function deliveryAspect(delivery: Delivery): number {
  return (delivery.widthPx * delivery.pixelAspect) / delivery.heightPx;
}

/**
 * Lays a delivery frame on a film back.
 * *match-width* uses the whole width, *match-height* the whole height, *show-all* loses nothing of the film back
 * (padding appears), *fill* shows nothing beyond it (film back is cropped).
 * 24.89 × 13.87 mm to 1920 × 1080 by match-width uses 24.89 × 14.00 mm: 0.065 mm, 5 px of padding above and below.
 */
export function fitDelivery(back: FilmBack, delivery: Delivery, fit: Fit): DeliveryFit {
  const backWidth = unsqueezedWidthMm(back);
  const aspect = deliveryAspect(delivery);
  const wider = aspect > backWidth / back.heightMm;
  const byWidth = fit === 'match-width' || (fit === 'show-all' && !wider) || (fit === 'fill' && wider);
  const widthMm = byWidth ? backWidth : back.heightMm * aspect;
  const heightMm = byWidth ? backWidth / aspect : back.heightMm;
  const cropXMm = (backWidth - widthMm) / 2;
  const cropYMm = (back.heightMm - heightMm) / 2;
  return {
    widthMm,
    heightMm,
    cropXMm,
    cropYMm,
    cropXPx: (cropXMm * delivery.widthPx) / widthMm,
    cropYPx: (cropYMm * delivery.heightPx) / heightMm,
  };
}
