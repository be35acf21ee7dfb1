import type { ReactNode } from 'react';
import { OpenJobContext, ProductsContext } from './jobContext';
import type { OpenJob } from './jobStore';
import type { Products } from './useProducts';

/** Gives a job and what has been worked out of it to all within; apart, so that an answer draws only what shows it. */
export function JobScope({ job, products, children }: { job: OpenJob; products: Products; children: ReactNode }) {
  return (
    <OpenJobContext value={job}>
      <ProductsContext value={products}>{children}</ProductsContext>
    </OpenJobContext>
  );
}
