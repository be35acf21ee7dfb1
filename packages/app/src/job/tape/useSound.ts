import { useQuery } from '@tanstack/react-query';
import type { Recipe } from '@ritaglio/core';
import { store } from '../../data/store';

/** Peaks a second. */
const perSecond = 100;
/** Larger files are not drawn: they would be decoded whole. */
const mostBytes = 300e6;

/** The outline of the job's sound: peaks from 0 to 1, a hundred a second, from the first frame of its clip; nothing without sound. */
export function useSound({ clips }: Recipe): { peaks: Float32Array; offset: number } | undefined {
  const clip = clips.find((c) => c.sound !== null);
  const { data } = useQuery({
    queryKey: ['sound', clip?.sound],
    enabled: clip !== undefined,
    staleTime: Infinity,
    queryFn: async () => {
      const file = await store.pictures.get(clip!.sound!);
      if (!file || file.blob.size > mostBytes) return null;
      try {
        return peaksOf(await new OfflineAudioContext(1, 1, 8000).decodeAudioData(await file.blob.arrayBuffer()));
      } catch {
        return null;
      }
    },
  });
  return data && clip ? { peaks: data, offset: clip.offset } : undefined;
}

function peaksOf(sound: AudioBuffer): Float32Array {
  const samples = sound.getChannelData(0);
  const each = sound.sampleRate / perSecond;
  return Float32Array.from({ length: Math.ceil(samples.length / each) }, (_, i) => {
    let peak = 0;
    for (let k = Math.floor(i * each); k < Math.min(samples.length, (i + 1) * each); k++) peak = Math.max(peak, Math.abs(samples[k]));
    return peak;
  });
}

/** A peak at a moment, s. */
export function peakAt(peaks: Float32Array, seconds: number): number {
  return peaks[Math.round(seconds * perSecond)] ?? 0;
}
