/** The columns of a register, for those who hear the page. */
export function RollHead() {
  return (
    <thead className="visually-hidden">
      <tr>
        <th>Number</th>
        <th>Student</th>
        <th>Recent marks</th>
        <th>Mark</th>
        <th>More</th>
      </tr>
    </thead>
  );
}
