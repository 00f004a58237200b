import work from '../shared/worklist.module.css';

/** Column headings of counts, from views to results. */
export const CountHeads = () =>
  ['Seen', 'Pressed', 'Orders, requests'].map((name) => (
    <th key={name} scope="col" className={work.number}>
      {name}
    </th>
  ));
