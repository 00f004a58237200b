import work from '../shared/worklist.module.css';

/** Heads of what is counted, from being seen to what came of it. */
export const CountHeads = () =>
  ['Seen', 'Pressed', 'Orders, requests'].map((name) => (
    <th key={name} scope="col" className={work.number}>
      {name}
    </th>
  ));
