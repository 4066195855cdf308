// The tracing kernel: builds trees over triangles and casts rays at them, for WebAssembly with SIMD and shared
// memory. It holds no objects: all it knows lies where its caller says.
export { begin, grownBy, hang, subtree } from './build';
export { trace } from './trace';
export { aim, encode, shade } from './samples';
