// The kernel: the computation that must be fast, for WebAssembly with SIMD and shared memory. It holds no objects: all it
// knows lies where its caller says.
export { begin, grownBy, hang, subtree } from './trace/build';
export { trace } from './trace/trace';
export { aim, encode, shade } from './trace/samples';
export { begin as beginWork, call as callHelpers, doOne as doOneTask, finish as finishWork, help as helpTeam } from './team';
export { aimAtSky, beginPaths, countOpenSky } from './light/begin';
export { countUnoccluded, extendPaths } from './light/extend';
export { measureAlbedos } from './light/bsdf';
export { passRays, passShadows } from './light/holes';
export { queuedShadows, scatterPaths } from './light/scatter';
